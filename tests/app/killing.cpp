#include "app/killing.hpp"

#include <signal.h>
#include <sys/wait.h>
#include <unistd.h>

#include <cstdio>
#include <cstdlib>

namespace aspen::test {

std::vector<std::string> run_and_kill(const std::vector<std::string>& args, int lines_at_least, int more_us) {
    int ends[2];
    if (pipe(ends) != 0) return {};
    const pid_t child = fork();
    if (child == 0) {
        dup2(ends[1], 1);
        close(ends[0]);
        execl(STEP_WRITER, STEP_WRITER, args[0].c_str(), args[1].c_str(), args[2].c_str(), nullptr);
        _exit(127);
    }
    close(ends[1]);
    FILE* told = fdopen(ends[0], "r");
    std::vector<std::string> out;
    char line[256];
    while (static_cast<int>(out.size()) < lines_at_least && fgets(line, sizeof line, told))
        out.emplace_back(line);
    usleep(static_cast<useconds_t>(more_us));
    kill(child, SIGKILL);
    while (fgets(line, sizeof line, told)) out.emplace_back(line);
    fclose(told);
    waitpid(child, nullptr, 0);
    return out;
}

int kills(int few) {
    const char* said = std::getenv("ASPEN_KILLS");
    return said ? std::atoi(said) : few;
}

}  // namespace aspen::test
