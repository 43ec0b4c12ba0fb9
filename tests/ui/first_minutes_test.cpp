// The first five minutes: a newcomer with a mouse and no keyboard presses only what is offered in sky (the
// one thing to do next, and the answers of what asks in sky), and puts the joints that are asked for where
// they are seen. It has to end with an exercise given and a page saved.

#include <QAbstractButton>
#include <QDialogButtonBox>
#include <QDir>
#include <QFileDialog>
#include <QTimer>

#include "app/demo/demo_yard.hpp"
#include "ui/review/ask_panel.hpp"
#include "ui/review/column.hpp"
#include "ui/window_support.hpp"

namespace aspen::ui {
namespace {

/// What anybody sees in these clips.
constexpr const char* kSeen[] = {"trot", "rising", "Hunter", "travels to the right", "top of the rise",
                                 "1990"};

class FirstMinutes : public Window {
  protected:
    void SetUp() override {
        home_ = qgetenv("HOME");
        qputenv("HOME", QByteArray::fromStdString((folder / "home").string()));
        QDir().mkpath(papers());
        connect_saver();
    }
    void TearDown() override {
        saver_.stop();
        qputenv("HOME", home_);
    }
    QString papers() const { return QString::fromStdString((folder / "home" / "Documents").string()); }
    QStringList pages() const { return QDir(papers()).entryList({"*.pdf"}, QDir::Files); }

    /// What is in sky and can be pressed: buttons alone, in the order they stand.
    std::vector<QPushButton*> in_sky() const {
        std::vector<QPushButton*> out;
        for (auto* b : window->findChildren<QPushButton*>()) {
            if (b->isVisible() && b->isEnabled() && (b->objectName() == "next" || b->objectName() == "ask"))
                out.push_back(b);
        }
        return out;
    }
    /// The answer a person who looks at the clip would press, of what asks in sky; the first where any will
    /// do.
    QPushButton* answer() const {
        auto* panel = window->findChild<AskPanel*>();
        if (!panel || !panel->isVisible()) return nullptr;
        QPushButton* first = nullptr;
        for (auto* b : panel->findChildren<QPushButton*>()) {
            if (!b->isVisible()) continue;
            if (!first) first = b;
            for (const char* seen : kSeen) {
                if (b->accessibleName() == seen) return b;
            }
        }
        return first;
    }
    bool press(QPushButton* b) {
        said_ << b->text();
        QTest::mouseClick(b, Qt::LeftButton);
        run_queued();
        return true;
    }
    /// One press of a newcomer; false where nothing is offered.
    bool go_on() {
        if (auto* b = answer()) return press(b);
        if (window->view() == ViewName::review && bench().deck().ready() && bench().marking().asked() &&
            bench().review().moments().size() < 2)
            return place_joint();
        const auto offered = in_sky();
        return !offered.empty() && press(offered.front());
    }
    bool place_joint() {
        if (!wait_for([&] { return bench().deck().picture_is_current(); })) return false;
        const auto clip = yard->file_of(bench().review().clip()).toStdString();
        const core::Figure truth = test::true_figure(clip, bench().deck().frame());
        said_ << "joint";
        click(truth[*bench().marking().asked()].at);
        return true;
    }
    /// A person waits until the clip is there and nothing is being read any more.
    void look() {
        wait_for([&] { return !bench().is_open() || bench().deck().ready(); });
        run_queued();
    }
    void expect_a_page(int most) {
        for (int n = 0; n < most && pages().isEmpty(); ++n) {
            look();
            if (!go_on()) break;
            if (given()) wait_for([&] { return !window->the<PrescribeView>().writing(); });
        }
        EXPECT_EQ(pages().size(), 1) << said_.join(" | ").toStdString() << "\n"
                                     << window->last_line().toStdString();
        EXPECT_TRUE(given());
    }
    bool given() const {
        for (const store::Rider& r : yard->records().people.riders()) {
            if (!yard->records().work.corrections(r.id).empty()) return true;
        }
        return false;
    }

  private:
    /// What a menu that a word in sky opened offers: what is seen in the clip.
    void choose_in(QMenu& menu) {
        QAction* chosen = nullptr;
        for (QAction* a : menu.actions()) {
            if (!a->isEnabled() || a->isSeparator() || a->text().isEmpty()) continue;
            if (!chosen) chosen = a;
            for (const char* seen : kSeen) {
                if (a->text().startsWith(seen)) chosen = a;
            }
        }
        if (!chosen) {
            menu.close();
            return;
        }
        said_ << "menu: " + chosen->text();
        QTest::mouseClick(&menu, Qt::LeftButton, {}, menu.actionGeometry(chosen).center());
    }
    /// Presses "Save" in a dialog that asks for a file, whose place and name stand there already.
    void connect_saver() {
        QObject::connect(&saver_, &QTimer::timeout, &saver_, [this] {
            if (auto* menu = qobject_cast<QMenu*>(QApplication::activePopupWidget())) return choose_in(*menu);
            auto* dialog = qobject_cast<QFileDialog*>(QApplication::activeModalWidget());
            if (!dialog || !dialog->isVisible()) return;
            auto* buttons = dialog->findChild<QDialogButtonBox*>();
            if (QPushButton* save = buttons ? buttons->button(QDialogButtonBox::Save) : nullptr)
                QTest::mouseClick(save, Qt::LeftButton);
        });
        saver_.start(50);
    }
    QTimer saver_;
    QByteArray home_;
    QStringList said_;
};

TEST_F(FirstMinutes, FromAnEmptyYardAndOneClipToAPage) {
    auto* add = in_sky().empty() ? nullptr : in_sky().front();
    ASSERT_TRUE(add) << "an empty yard offers one thing";
    EXPECT_TRUE(add->text().startsWith("Add clips"));
    bring_in(test::simulated_clip(test::faulty_plan(), "window"));  // what the dialog of that button does
    expect_a_page(60);
}

TEST_F(FirstMinutes, FromTheDemoToAPage) {
    std::vector<app::DemoReview> few;
    for (app::DemoReview r : app::demo_reviews()) {
        if (r.reviewed || r.rider != std::string("Joss Penhallow")) continue;
        r.plan.duration_s = 2;
        few.push_back(r);
    }
    ASSERT_FALSE(few.empty());
    app::DemoYard demo(*yard, {few.front()});
    bool finished = false;
    QObject::connect(&demo, &app::DemoYard::finished, [&] { finished = true; });
    demo.start();
    ASSERT_TRUE(wait_for([&] { return finished; }, 120000));
    settle();
    expect_a_page(60);
}

TEST_F(FirstMinutes, AMinorsPageWaitsForTheOneWhoAgrees) {
    bring_in(test::simulated_clip(test::faulty_plan(), "window"));
    for (int n = 0; n < 40 && !given(); ++n) {
        look();
        ASSERT_TRUE(go_on());
    }
    ASSERT_TRUE(given());
    store::Rider child = yard->records().people.riders().front();
    child.birth_year = 2016;
    app::change_rider(*yard, child);
    window->show_view(ViewName::prescribe);
    run_queued();
    ASSERT_FALSE(in_sky().empty());
    EXPECT_TRUE(in_sky().front()->text().startsWith("Record who agreed"))
        << in_sky().front()->text().toStdString();
    press(in_sky().front());
    EXPECT_EQ(window->view(), ViewName::yard);
    EXPECT_TRUE(pages().isEmpty());
}

}  // namespace
}  // namespace aspen::ui
