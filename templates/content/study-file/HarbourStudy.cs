#:package Tachyscope@TACHYSCOPE-VERSION
#:property PublishAot=false
#:property Optimize=true
