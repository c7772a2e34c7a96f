// The same guest, compiled as C++.
#include "chain.c"
