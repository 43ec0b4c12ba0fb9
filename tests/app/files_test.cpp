// Names of files, folders of our own, and outputs that are no files.

#include <fcntl.h>
#include <gmock/gmock.h>
#include <sys/stat.h>

#include <QDir>

#include "app/files/cache_folder.hpp"
#include "app/files/file_name.hpp"
#include "app/files/private_folder.hpp"
#include "app/files/whole_file.hpp"
#include "support/support.hpp"

namespace aspen::app {
namespace {

TEST(FileName, IsWordsThatNoDiskMindsAndNoPath) {
    for (const auto& [words, name] : {std::pair{"Maude Estrell", "maude-estrell"},
                                      {"Ines Varga-Holt", "ines-varga-holt"},
                                      {"/tmp/evil", "tmp-evil"},
                                      {"../../x", "x"},
                                      {".hidden", "hidden"},
                                      {"a\nb\tc\"d'e", "a-b-c-d-e"},
                                      {"J\xC3\xB6rg \xC3\x9Ch", "j\xC3\xB6rg-\xC3\xBCh"},
                                      {"", "unnamed"},
                                      {"...", "unnamed"},
                                      {"=1+1", "1-1"}})
        EXPECT_EQ(as_file_name(QString(words)).toStdString(), name) << words;
}

TEST(FileName, IsNeverLongerThanADiskTakes) {
    EXPECT_EQ(as_file_name(QString(300, 'x')).size(), 80);
    for (const char32_t sign : {U'\u00FC', U'\u4E2D', U'\U00010330'}) {
        const QString many = QString::fromUcs4(&sign, 1).repeated(200);
        const QByteArray bytes = as_file_name(many).toUtf8();
        EXPECT_LE(bytes.size(), 80);
        EXPECT_GT(bytes.size(), 76);
        EXPECT_FALSE(QString::fromUtf8(bytes).contains(QChar::ReplacementCharacter))
            << "no letter is cut in two";
    }
}

TEST(FileName, KeepsAPlainEndingOfAFile) {
    EXPECT_EQ(as_file_name(QFileInfo("/a/Joss Trot.MP4")), "joss-trot.mp4");
    EXPECT_EQ(as_file_name(QFileInfo("/a/" + QString(250, 'y') + ".mov")), QString(80, 'y') + ".mov");
    EXPECT_EQ(as_file_name(QFileInfo("/a/no ending")), "no-ending");
}

int rights(const QString& path) {
    struct stat s {};
    return ::stat(path.toLocal8Bit().constData(), &s) == 0 ? static_cast<int>(s.st_mode & 0777) : -1;
}

TEST(PrivateFolder, IsItsOwnersAloneWithAllThatWasMissingAbove) {
    const test::TempFolder folder;
    const QString at = QString::fromStdString((folder / "a").string());
    ASSERT_TRUE(make_private_folder(at + "/b/c"));
    for (const char* one : {"", "/b", "/b/c"}) EXPECT_EQ(rights(at + one), 0700) << one;
    ::chmod((at + "/b").toLocal8Bit().constData(), 0755);
    ASSERT_TRUE(make_private_folder(at + "/b"));
    EXPECT_EQ(rights(at + "/b"), 0700) << "also where it was there before";
    EXPECT_FALSE(make_private_folder("/proc/nothing/there"));
}

TEST(PrivateFolder, TheCacheIsOne) {
    EXPECT_EQ(rights(cache_folder()), 0700);
    EXPECT_EQ(rights(QFileInfo(cache_folder()).path()), 0700);
}

TEST(AStream, IsWrittenIntoAPipeAndLeavesItOne) {
    const test::TempFolder folder;
    const std::string pipe = (folder / "pipe").string();
    ASSERT_EQ(::mkfifo(pipe.c_str(), 0600), 0);
    const int reader = ::open(pipe.c_str(), O_RDONLY | O_NONBLOCK);
    EXPECT_EQ(write_whole(QString::fromStdString(pipe), "words"), "");
    char read[6] = {};
    EXPECT_EQ(::read(reader, read, 5), 5);
    EXPECT_STREQ(read, "words");
    ::close(reader);
    EXPECT_TRUE(std::filesystem::is_fifo(pipe));
    EXPECT_NE(write_whole("/dev/full", "words"), "") << "a full disk is said";
    EXPECT_TRUE(std::filesystem::is_character_file("/dev/full"));
}

}  // namespace
}  // namespace aspen::app
