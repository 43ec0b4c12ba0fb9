// The yard view by real events: what needs the coach, regrouping by key, searching, the trash.

#include <fstream>

#include "ui/window_support.hpp"

namespace aspen::ui {
namespace {

class YardWindow : public Window {
  protected:
    store::ClipId clip(const char* name, const char* day) {
        store::Clip c;
        c.path = std::string("/films/") + name;
        c.hash = name;
        c.recorded_at = day;
        return app::take_in_clip(*yard, c);
    }
    QListView& rides() { return window->the<YardView>().rides(); }
    app::RidesModel& model() { return window->the<YardView>().model(); }
    QStringList steps_of_menu(const QString& title) {
        QMenu menu;
        QStringList out;
        for (QPushButton* b : window->the<YardView>().findChildren<QPushButton*>()) {
            if (!b->menu() || !b->accessibleName().startsWith("Records")) continue;
            emit b->menu()->aboutToShow();
            for (QAction* a : b->menu()->actions()) {
                if (a->text() != title || !a->menu()) continue;
                for (QAction* inner : a->menu()->actions()) out << inner->text();
            }
        }
        return out;
    }
};

TEST_F(YardWindow, RidesAreRegroupedAndPromisedByKey) {
    clip("a.mp4", "2026-11-20");
    clip("b.mp4", "2026-11-21");
    settle();
    ASSERT_EQ(model().waiting(), 2);
    rides().setFocus();
    rides().setCurrentIndex(model().index(1));
    key(Qt::Key_J);
    settle();
    EXPECT_EQ(model().waiting(), 1) << "one ride of two clips";
    EXPECT_EQ(model().index(0).data(app::RidesModel::count_role).toInt(), 2);
    EXPECT_EQ(rides().currentIndex().row(), 0) << "the keys stay with it";
    key(Qt::Key_S);
    settle();
    EXPECT_EQ(model().waiting(), 2);
    key(Qt::Key_Z, Qt::ControlModifier);
    settle();
    EXPECT_EQ(model().waiting(), 1);
    key(Qt::Key_P);
    settle();
    EXPECT_TRUE(
        model().index(0).data(app::RidesModel::why_role).toString().startsWith("Promised for tomorrow"));
    key(Qt::Key_P, Qt::ShiftModifier);
    settle();
    EXPECT_FALSE(model().index(0).data(app::RidesModel::why_role).toString().startsWith("Promised"));
    key(Qt::Key_Delete);
    settle();
    EXPECT_EQ(model().waiting(), 0);
    EXPECT_EQ(steps_of_menu("What was done").front(), "Put the ride's clips in the trash")
        << "the steps in words";
}

TEST_F(YardWindow, WordsAreFoundFromTheKeyboardAlone) {
    const auto a = clip("a.mp4", "2026-11-20");
    app::say_rider(*yard, test::ride_of(*yard, a),
                   add_rider(*yard, test::rider("Maude Estrell", 1990, "jumper")));
    store::Note n;
    n.clip = a;
    n.kind = store::NoteKind::words;
    n.words = "leg slid back again";
    app::add_note(*yard, n);
    settle();
    rides().setFocus();
    key(Qt::Key_Slash);
    ASSERT_TRUE(window->the<YardView>().search().hasFocus());
    QTest::keyClicks(&window->the<YardView>().search(), "slid");
    ASSERT_EQ(model().rowCount(), 1);
    EXPECT_EQ(model().index(0).data().toString(), "Maude Estrell");
    key(Qt::Key_Escape);
    EXPECT_EQ(model().waiting(), 1);
    EXPECT_TRUE(rides().hasFocus());
    key(Qt::Key_F, Qt::ControlModifier);
    EXPECT_TRUE(window->the<YardView>().search().hasFocus()) << "from every view";
}

TEST_F(YardWindow, AnUnknownRidersRideSaysItsFileAndAsksOnce) {
    clip("IMG_2231.mp4", "2026-11-20");
    settle();
    const QModelIndex row = model().index(0);
    EXPECT_EQ(row.data().toString(), "IMG_2231.mp4");
    const QString all = row.data(Qt::AccessibleTextRole).toString();
    EXPECT_EQ(all.count("Who rides?"), 1) << all.toStdString();
}

TEST_F(YardWindow, DeletingForGoodAsksOnceAndSaysWhatGoes) {
    const auto a = clip("a.mp4", "2026-11-20");
    app::trash_clip(*yard, a);
    QStringList asked;
    for (QPushButton* b : window->the<YardView>().findChildren<QPushButton*>()) {
        if (!b->menu() || !b->accessibleName().startsWith("Records")) continue;
        emit b->menu()->aboutToShow();
        for (QAction* entry : b->menu()->actions()) {
            if (entry->text() != "Trash") continue;
            for (QAction* sure : entry->menu()->actions()[0]->menu()->actions()) {
                if (!sure->menu()) continue;
                for (QAction* one : sure->menu()->actions()) asked << one->text();
                sure->menu()->actions()[1]->trigger();
            }
        }
    }
    ASSERT_EQ(asked.size(), 2);
    EXPECT_TRUE(asked[0].contains("marked moment")) << asked[0].toStdString();
    EXPECT_TRUE(asked[1].contains("cannot be taken back"));
    EXPECT_FALSE(yard->records().rides.clip(a));
}

TEST_F(YardWindow, ClosingInTheMiddleOfAnImportEndsAtOnceAndHalfOfNothingIsThere) {
    QStringList files;
    const auto film = test::simulated_clip(test::faulty_plan(), "window");
    for (int i = 0; i < 40; ++i) {
        const auto copy = folder / ("many-" + std::to_string(i) + ".mp4");
        std::filesystem::copy_file(film, copy);
        std::ofstream(copy, std::ios::app | std::ios::binary)
            << std::string(static_cast<std::size_t>(i) + 1, 'x');
        files << QString::fromStdString(copy.string());
    }
    window->bring_in(files);
    ASSERT_TRUE(wait_for([&] { return yard->jobs().rowCount() > 1; })) << "in the middle of it";
    window->close();
    window.reset();
    yard.reset();
    reopen();
    EXPECT_LT(yard->records().rides.clips().size(), 40U) << "it did not wait for all of them";
    for (const store::Clip& c : yard->records().rides.clips())
        EXPECT_EQ(yard->records().rides.places(c.id).size(), 1U) << "every clip has its ride";
}

TEST_F(YardWindow, APictureIsAClipOfOneFrame) {
    QImage still(640, 480, QImage::Format_RGB32);
    still.fill(Qt::darkGreen);
    for (const char* name : {"rider.jpg", "rider.png"}) {
        const QString file = QString::fromStdString((folder / name).string());
        ASSERT_TRUE(still.save(file));
        window->bring_in({file});
        ASSERT_TRUE(wait_for([&] {
            return bench().deck().ready() && yard->file_of(bench().review().clip()) == file;
        })) << window->last_line().toStdString();
        EXPECT_EQ(bench().deck().facts().frames, 1);
        EXPECT_EQ(bench().deck().facts().width, 640);
        ASSERT_TRUE(wait_for([&] { return bench().deck().picture_is_current(); }));
        bench().marking().place({100, 100}, 1);
        EXPECT_EQ(bench().review().moments().size(), 1U) << "joints are marked on it like on any frame";
    }
}

// What was done is said whole, beside the views or over them where there is no room beside.
TEST_F(YardWindow, WhatWasDoneIsReadOnASmallWindowToo) {
    const QString line = "Written: maude-2026-11-28.mp4, 38 s, 6.1 MB. Look at it before it leaves.";
    window->resize(1600, 800);
    settle();
    window->say(line);
    settle();
    EXPECT_FALSE(window->said_line().lies_over());
    EXPECT_EQ(window->last_line(), line);
    window->resize(1024, 700);
    window->show_view(ViewName::progress);  // where the rider's pages leave it the least room
    window->say(line);
    ASSERT_TRUE(wait_for([&] { return window->said_line().lies_over(); }));
    window->say({});
    EXPECT_FALSE(window->said_line().lies_over());
}

}  // namespace
}  // namespace aspen::ui
