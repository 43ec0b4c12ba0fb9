#include <iostream>

#include "painter/leaving_verbs.hpp"

int main(int argc, char** argv) { return aspen::painter::run({argv + 1, argv + argc}, std::cout, std::cerr); }
