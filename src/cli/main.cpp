#include <iostream>

#include "app/files/one_line.hpp"
#include "cli/verbs.hpp"

int main(int argc, char** argv) {
    aspen::app::speak_in_one_line("aspen-crest-cli");
    return aspen::cli::run({argv + 1, argv + argc}, std::cout, std::cerr);
}
