// Works on a yard until it is killed. "open": opens it, bringing it up to this version. "steps": random
// steps, each printed with a fingerprint of all records when it is committed. "backup": writes one backup
// after the other. "restore": asks for a restore and opens the yard, again and again. "read": opens and reads
// it, again and again. "bundle": writes one. "import": takes one in. "outbox": fills it and writes it out.
// "film": writes the first spoken review as a film.

#include <QCryptographicHash>
#include <QGuiApplication>
#include <QRegularExpression>
#include <cstdio>
#include <cstring>
#include <filesystem>

#include "app/files/data_files.hpp"
#include "app/leaving/bundle_in.hpp"
#include "app/leaving/bundle_out.hpp"
#include "app/leaving/outbox.hpp"
#include "app/random_steps.hpp"
#include "app/telling/film_writer.hpp"
#include "core/reading/refused.hpp"
#include "support/dump.hpp"
#include "support/support.hpp"

using namespace aspen;

namespace {

void tell(const QByteArray& line) {
    std::printf("%s\n", line.constData());
    std::fflush(stdout);
}

/// Keys of cards are drawn by lot: two runs of the same steps differ in nothing else.
QByteArray without_keys(const std::string& dump) {
    return QString::fromStdString(dump).replace(QRegularExpression("\\b[0-9a-f]{32}\\b"), "KEY").toUtf8();
}

QByteArray fingerprint(app::Yard& yard) {
    return QCryptographicHash::hash(without_keys(test::dump_of(test::to_write(yard))),
                                    QCryptographicHash::Sha256)
        .toHex();
}

}  // namespace

int main(int argc, char** argv) {
    QGuiApplication application(argc, argv);
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
                    yard.steps().undo();
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
    } else if (std::strcmp(argv[1], "read") == 0) {
        // As a script does: opened, read and closed, over and over. Says by its end that something was wrong.
        for (;;) {
            store::YardStore yard(std::filesystem::path(folder.toStdString()) / "yard.db");
            if (yard.people.riders().size() < 4 || yard.search.places("Fig", 20).empty()) return 5;
        }
    } else if (std::strcmp(argv[1], "bundle") == 0) {
        app::Yard yard(folder, app::shipped_knowledge());
        app::Bundles bundles(yard);
        bool ended = false;
        QObject::connect(&bundles, &app::Bundles::finished, [&](const QString& line, bool) {
            tell(line.toUtf8());
            ended = true;
        });
        bundles.write(app::rides_with_clips(yard, test::to_write(yard).people.riders().at(0).id), other);
        while (!ended) QCoreApplication::processEvents(QEventLoop::WaitForMoreEvents, 50);
    } else if (std::strcmp(argv[1], "import") == 0) {
        app::Yard yard(folder, app::shipped_knowledge());
        tell("opened");
        app::Job job(0, {}, true);
        const app::UnpackedBundle bundle(other, folder, yard.knowledge().figure_errors, job);
        app::take_bundle(yard, bundle);
        tell("taken");
    } else if (std::strcmp(argv[1], "outbox") == 0) {
        app::Yard yard(folder, app::shipped_knowledge());
        const auto maude = app::add_rider(yard, test::rider("Maude Estrell", 1970, "hunter"));
        for (int i = 0; i < 12; ++i) {
            store::Outgoing o;
            o.rider = maude;
            o.kind = "message";
            o.made_at = "2026-11-24T10:00:00";
            o.to = "Maude Estrell";
            o.subject = "Number " + std::to_string(i);
            o.words = std::string(400, 'x');
            o.state = "waiting";
            app::put_in_outbox(yard, o);
        }
        tell("waiting");
        tell(app::write_outbox(yard).toUtf8());
    } else if (std::strcmp(argv[1], "film") == 0) {
        app::Yard yard(folder, app::shipped_knowledge());
        yard.set_clock(test::noon_of(QDate(2026, 11, 26)));
        app::FilmWriter writer(yard);
        bool ended = false;
        QObject::connect(&writer, &app::FilmWriter::finished, [&](const QString& line, bool) {
            tell(line.toUtf8());
            ended = true;
        });
        const QString refused = writer.start(*test::to_write(yard).leaving.spoken(store::SpokenId{1}), other);
        tell(refused.isEmpty() ? QByteArray("writing") : refused.toUtf8());
        while (refused.isEmpty() && !ended)
            QCoreApplication::processEvents(QEventLoop::WaitForMoreEvents, 50);
    } else {
        for (int i = 0;; ++i) {
            if (!app::restore_at_start(folder, other).isEmpty()) return 4;
            app::Yard yard(folder, app::shipped_knowledge());
            tell(QByteArray::number(i));
        }
    }
    return 0;
}
