#include "app/files/one_line.hpp"
#include "ui/start.hpp"

int main(int argc, char** argv) {
    aspen::app::speak_in_one_line("aspen-crest");
    return aspen::ui::start(argc, argv, ASPEN_VERSION);
}
