// Works on a yard until it is killed. "open": opens it, bringing it up to this version. "steps": random
// steps, each printed with a fingerprint of all records when it is committed. "backup": writes one backup
// after the other. "restore": asks for a restore and opens the yard, again and again.

#include <QCoreApplication>
#include <QCryptographicHash>
#include <cstdio>
#include <cstring>

#include "app/files/data_files.hpp"
#include "app/random_steps.hpp"
#include "core/reading/refused.hpp"
#include "support/dump.hpp"

using namespace aspen;

namespace {

void tell(const QByteArray& line) {
    std::printf("%s\n", line.constData());
    std::fflush(stdout);
}

QByteArray fingerprint(app::Yard& yard) {
    return QCryptographicHash::hash(QByteArray::fromStdString(test::dump_of(yard.records())),
                                    QCryptographicHash::Sha256)
        .toHex();
}

}  // namespace

int main(int argc, char** argv) {
    QCoreApplication application(argc, argv);
    if (argc < 4) return 2;
    const QString folder = argv[2], other = argv[3];
    if (std::strcmp(argv[1], "steps") == 0) {
        app::Yard yard(folder, app::shipped_knowledge());
        app::plant_yard(yard);
        std::mt19937 engine(static_cast<unsigned>(other.toUInt()));
        tell(fingerprint(yard));
        for (int i = 0; i < 100000; ++i) {
            try {
                if (engine() % 5 == 0)
                    yard.undo();
                else
                    app::random_step(yard, engine);
            } catch (const core::Refused&) {
            }
            tell(fingerprint(yard));
        }
    } else if (std::strcmp(argv[1], "open") == 0) {
        tell("opening");
        const store::YardStore yard(std::filesystem::path(folder.toStdString()) / "yard.db");
        tell("open");
    } else if (std::strcmp(argv[1], "backup") == 0) {
        app::Yard yard(folder, app::shipped_knowledge());
        for (int i = 0;; ++i) {
            app::back_up(yard, other);
            tell(QByteArray::number(i));
        }
    } else {
        for (int i = 0;; ++i) {
            if (!app::restore_at_start(folder, other).isEmpty()) return 4;
            app::Yard yard(folder, app::shipped_knowledge());
            tell(QByteArray::number(i));
        }
    }
    return 0;
}
