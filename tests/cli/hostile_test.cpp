// What a stranger may hand over (tests/data/hostile/make_hostile.py): one line each, in a moment, within
// bounds, and nobody else is asked anything. Each is given to the program itself, in a process of its own.

#include <arpa/inet.h>
#include <fcntl.h>
#include <gmock/gmock.h>
#include <sys/resource.h>
#include <sys/socket.h>
#include <sys/wait.h>
#include <unistd.h>

#include <chrono>
#include <cstdlib>
#include <fstream>
#include <nlohmann/json.hpp>
#include <sstream>

#include "app/files/data_files.hpp"
#include "app/yard/changes.hpp"
#include "cli/cli_support.hpp"
#include "support/support.hpp"

namespace aspen::cli {
namespace {

namespace fs = std::filesystem;
using testing::ContainsRegex, testing::HasSubstr;

/// A server on this machine that counts who comes.
class Listening {
  public:
    Listening() : socket_(::socket(AF_INET, SOCK_STREAM | SOCK_NONBLOCK, 0)) {
        sockaddr_in at{};
        at.sin_family = AF_INET;
        at.sin_addr.s_addr = htonl(INADDR_LOOPBACK);
        socklen_t size = sizeof at;
        if (::bind(socket_, reinterpret_cast<sockaddr*>(&at), size) != 0 || ::listen(socket_, 8) != 0)
            std::abort();
        ::getsockname(socket_, reinterpret_cast<sockaddr*>(&at), &size);
        port_ = ntohs(at.sin_port);
    }
    ~Listening() { ::close(socket_); }
    Listening(const Listening&) = delete;
    Listening& operator=(const Listening&) = delete;
    int port() const { return port_; }
    bool was_asked() const {
        const int who = ::accept(socket_, nullptr, nullptr);
        if (who >= 0) ::close(who);
        return who >= 0;
    }

  private:
    int socket_, port_ = 0;
};

std::string whole(const fs::path& file) {
    std::ifstream in(file, std::ios::binary);
    return {std::istreambuf_iterator<char>(in), {}};
}

struct Ran {
    int code = -1;
    std::string out, err;
    double seconds = 0;
    long most_mb = 0;
};

class Hostile : public testing::Test {
  protected:
    static void SetUpTestSuite() {
        server = std::make_unique<Listening>();
        folder = std::make_unique<test::TempFolder>();
        const std::string make = "python3 " ASPEN_SOURCE_DIR "/tests/data/hostile/make_hostile.py '" +
                                 (*folder / "files").string() + "' " + std::to_string(server->port());
        ASSERT_EQ(std::system(make.c_str()), 0);
        app::Yard yard(QString::fromStdString((*folder / "yard").string()), app::shipped_knowledge());
        app::add_rider(yard, test::rider("Maude Estrell", 1990, "hunter", "novice"));
    }
    static void TearDownTestSuite() {
        folder.reset();
        server.reset();
    }
    static fs::path file(const std::string& name) { return *folder / "files" / name; }
    static std::string yard() { return (*folder / "yard").string(); }

    /// Without a word of the surroundings: what the libraries would complain of must not be heard either.
    static Ran run(std::vector<std::string> arguments) {
        const fs::path out = *folder / "out", err = *folder / "err";
        arguments.insert(arguments.begin(), ASPEN_CLI);
        const auto start = std::chrono::steady_clock::now();
        const pid_t child = fork();
        if (child == 0) {
            ::unsetenv("XDG_RUNTIME_DIR");
            ::setenv("ASPEN_PAINTER", ASPEN_PAINTER, 1);
            ::setenv("LC_ALL", "nowhere", 1);
            ::dup2(::open(out.c_str(), O_WRONLY | O_CREAT | O_TRUNC, 0600), STDOUT_FILENO);
            ::dup2(::open(err.c_str(), O_WRONLY | O_CREAT | O_TRUNC, 0600), STDERR_FILENO);
            std::vector<char*> argv;
            for (std::string& a : arguments) argv.push_back(a.data());
            argv.push_back(nullptr);
            ::execv(argv[0], argv.data());
            ::_exit(127);
        }
        Ran ran;
        int status = 0;
        struct rusage used {};
        ::wait4(child, &status, 0, &used);
        ran.code = WIFEXITED(status) ? WEXITSTATUS(status) : 128 + WTERMSIG(status);
        ran.seconds = std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count();
        ran.most_mb = used.ru_maxrss >> 10;
        ran.out = whole(out);
        ran.err = whole(err);
        return ran;
    }
    static nlohmann::json said() { return nlohmann::json::parse(whole(file("said.json"))); }
    static std::unique_ptr<Listening> server;
    static std::unique_ptr<test::TempFolder> folder;
};
std::unique_ptr<Listening> Hostile::server;
std::unique_ptr<test::TempFolder> Hostile::folder;

/// What a program of this size takes with nothing to read, and what a file may add above its own size.
constexpr long kItself = 120, kAbove = 200;

TEST_F(Hostile, EachIsOneLineWithinBounds) {
    for (const auto& one : said()) {
        const std::string name = one["name"];
        std::vector<std::string> arguments;
        for (const std::string a : one["arguments"])
            arguments.push_back(a == "{file}" ? file(name).string() : a == "{yard}" ? yard() : a);
        const Ran ran = run(arguments);
        SCOPED_TRACE(name + ": " + ran.err.substr(0, 300));
        EXPECT_EQ(ran.code, one["exit"].get<int>());
        const std::string says = one["says"];
        if (one["exit"] == 0) {
            EXPECT_EQ(ran.err, "");
        } else {
            EXPECT_THAT(ran.err, ContainsRegex(says));
            EXPECT_EQ(std::ranges::count(ran.err, '\n'), 1) << "one line";
            EXPECT_EQ(ran.out, "");
        }
        EXPECT_LT(ran.seconds, 60) << "nothing hangs, however loaded the machine is";
#if !defined(__SANITIZE_ADDRESS__)
        const bool regular = fs::is_regular_file(file(name));
        EXPECT_LT(ran.most_mb,
                  kItself + kAbove + (regular ? static_cast<long>(fs::file_size(file(name)) >> 20) : 0));
#endif
        EXPECT_FALSE(server->was_asked());
    }
}

TEST_F(Hostile, NothingIsLeftInTheYard) {
    for (const auto& e : fs::directory_iterator(yard()))
        EXPECT_THAT(e.path().filename().string(), testing::Not(testing::StartsWith(".bundle-")));
}

TEST_F(Hostile, ARidersNameIsNoPath) {
    const Ran all = run({"export", yard(), "rides"});
    EXPECT_EQ(all.code, 0) << all.err;
    EXPECT_FALSE(fs::exists("/tmp/x"));
}

// Exif 2.3: orientation 6 is shown a quarter to the right (the sample's left half, red, comes out above).
TEST_F(Hostile, APhotographIsShownAsTheCameraWasHeld) {
    const Ran turned = run({"frames", file("upright.jpg").string(), "--json"});
    const auto facts = nlohmann::json::parse(turned.out);
    EXPECT_EQ(facts["width"], 48);
    EXPECT_EQ(facts["height"], 64);
    EXPECT_EQ(facts["rotation_deg"], 90);
}

// What is no file is written to, never replaced.
TEST_F(Hostile, AnOutputThatIsADeviceIsWrittenTo) {
    const fs::path pipe = *folder / "out.png";
    ASSERT_EQ(mkfifo(pipe.c_str(), 0600), 0);
    const int reader = ::open(pipe.c_str(), O_RDONLY | O_NONBLOCK);
    const Ran ran = run({"frame", file("film.txt").string(), "3", "-o", pipe.string()});
    EXPECT_EQ(ran.code, 0) << ran.err;
    char head[8] = {};
    EXPECT_EQ(::read(reader, head, sizeof head), 8);
    EXPECT_EQ(std::string(head + 1, 3), "PNG");
    ::close(reader);
    EXPECT_TRUE(fs::is_fifo(pipe));
    const Ran full = run({"frame", file("film.txt").string(), "3", "-o", "/dev/full"});
    EXPECT_EQ(full.code, 3);
    EXPECT_THAT(full.err, HasSubstr("cannot be written"));
    EXPECT_TRUE(fs::is_character_file("/dev/full"));
}

TEST_F(Hostile, AFullDiskIsSaid) {
    for (const std::vector<std::string>& arguments :
         {std::vector<std::string>{"calc", "click", "--tempo", "90", "--gait", "walk", "--seconds", "5", "-o",
                                   "/dev/full"},
          {"export", yard(), "rides", "-o", "/dev/full"}}) {
        const Ran ran = run(arguments);
        EXPECT_NE(ran.code, 0);
        EXPECT_EQ(std::ranges::count(ran.err, '\n'), 1) << ran.err;
    }
}

}  // namespace
}  // namespace aspen::cli
