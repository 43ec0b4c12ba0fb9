#include "cli/painter.hpp"

#include <fcntl.h>
#include <sys/wait.h>
#include <unistd.h>

#include <array>
#include <cstdlib>
#include <filesystem>
#include <ostream>
#include <thread>

#include "cli/verbs.hpp"

namespace aspen::cli {
namespace {

std::filesystem::path painter() {
    if (const char* said = std::getenv("ASPEN_PAINTER")) return said;
    std::error_code error;
    return std::filesystem::read_symlink("/proc/self/exe", error).parent_path() / "aspen-crest-painter";
}

/// Everything that comes out of a pipe until its other end is shut.
void copy(int from, std::ostream& to) {
    std::array<char, 4096> block{};
    for (ssize_t n = 0; (n = ::read(from, block.data(), block.size())) > 0;) to.write(block.data(), n);
    ::close(from);
}

}  // namespace

int have_painted(const std::vector<std::string>& arguments, std::ostream& out, std::ostream& err) {
    std::string program = painter().string();
    if (!std::filesystem::exists(program)) {
        err << arguments.front() << ": " << program << " is not there; install it beside this program\n";
        return kFailed;
    }
    std::array<int, 2> said{}, complained{};
    if (::pipe2(said.data(), O_CLOEXEC) != 0 || ::pipe2(complained.data(), O_CLOEXEC) != 0) {
        err << arguments.front() << ": cannot be started; close other programs and try again\n";
        return kFailed;
    }
    std::vector<std::string> words = arguments;
    std::vector<char*> argv{program.data()};
    for (std::string& w : words) argv.push_back(w.data());
    argv.push_back(nullptr);
    const pid_t child = ::fork();
    if (child == 0) {
        ::dup2(said[1], STDOUT_FILENO);
        ::dup2(complained[1], STDERR_FILENO);
        ::execv(program.c_str(), argv.data());
        ::_exit(kFailed);
    }
    ::close(said[1]);
    ::close(complained[1]);
    std::thread other([&] { copy(complained[0], err); });
    copy(said[0], out);
    other.join();
    int status = 0;
    if (child < 0 || ::waitpid(child, &status, 0) != child || !WIFEXITED(status)) {
        err << arguments.front() << ": stopped in the middle of its work; nothing half was kept\n";
        return kFailed;
    }
    return WEXITSTATUS(status);
}

}  // namespace aspen::cli
