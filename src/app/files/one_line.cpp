#include "app/files/one_line.hpp"

#include <unistd.h>

#include <QString>
#include <QtGlobal>
#include <array>
#include <csignal>
#include <cstdio>
#include <cstring>

namespace aspen::app {
namespace {

constexpr int kFailed = 4;
const char* program_name = "aspen-crest";

void say_nothing(QtMsgType kind, const QMessageLogContext&, const QString& words) {
    if (kind == QtFatalMsg) std::fprintf(stderr, "%s: %s\n", program_name, qUtf8Printable(words));
}

void put(const char* words) {
    [[maybe_unused]] const auto written = ::write(STDERR_FILENO, words, std::strlen(words));
}

/// Only what may be called in the middle of anything.
void say_crash(int) {
    put(program_name);
    put(": stopped in the middle of its work; the file may be damaged, nothing half was kept\n");
    ::_exit(kFailed);
}

}  // namespace

void speak_in_one_line(const char* program) {
    program_name = program;
    qInstallMessageHandler(&say_nothing);
    static std::array<std::byte, 1 << 16> room;  // a stack that ran over has none of its own left
    stack_t stack{};
    stack.ss_sp = room.data();
    stack.ss_size = room.size();
    ::sigaltstack(&stack, nullptr);
    struct sigaction action {};
    action.sa_handler = &say_crash;
    action.sa_flags = SA_ONSTACK | static_cast<int>(SA_RESETHAND);
    for (const int signal : {SIGSEGV, SIGBUS, SIGFPE, SIGILL, SIGABRT}) ::sigaction(signal, &action, nullptr);
}

}  // namespace aspen::app
