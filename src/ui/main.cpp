#include "ui/start.hpp"

int main(int argc, char** argv) { return aspen::ui::start(argc, argv, ASPEN_VERSION); }
