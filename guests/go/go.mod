module tachyscope

go 1.19
