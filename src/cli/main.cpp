#include <iostream>

#include "cli/verbs.hpp"

int main(int argc, char** argv) { return aspen::cli::run({argv + 1, argv + argc}, std::cout, std::cerr); }
