// Nothing: what is precompiled for the targets that reuse it is listed in CMakeLists.txt.
