package main

func main() { light() }
