// What the leak sanitizer is told of libraries: x265 keeps two small tables of each encoder that it made.
#ifdef __SANITIZE_ADDRESS__
extern "C" const char* __lsan_default_suppressions() { return "leak:libx265.so\n"; }
#endif
