#include <iostream>

#include "app/files/one_line.hpp"
#include "painter/leaving_verbs.hpp"

int main(int argc, char** argv) {
    aspen::app::speak_in_one_line("aspen-crest-cli");
    return aspen::painter::run({argv + 1, argv + argc}, std::cout, std::cerr);
}
