// A coach's own school: copied, written in, laid beside another on one pose, and what changes in the open
// ride.

#include "app/review/first_look.hpp"
#include "app/yard/changes.hpp"
#include "ui/schools/schools_view.hpp"
#include "ui/window_support.hpp"

namespace aspen::ui {
namespace {

class OwnSchools : public Window {
  protected:
    int row_of(const char* words) {
        BandTable& t = window->the<SchoolsView>().table();
        for (int r = 0; r < t.rowCount(); ++r) {
            if (t.index(r, BandTable::measure_column).data().toString().startsWith(words)) return r;
        }
        return -1;
    }
    bool write(const char* words, BandTable::Column column, const QString& value) {
        BandTable& t = window->the<SchoolsView>().table();
        return t.setData(t.index(row_of(words), column), value, Qt::EditRole);
    }
};

/// A copy of the school that the open ride goes by.
class CopiedSchool : public OwnSchools {
  protected:
    void copy() {
        bring_in_ridden();
        mark_from_truth(10);
        ASSERT_EQ(bench().review().ride().school, "hunter");
        window->show_view(ViewName::schools);
        EXPECT_FALSE(write("Trunk lean", BandTable::highest, "60")) << "the shipped ones stay as they ship";
        window->the<SchoolsView>().copy();
    }
    auto band(const char* measure) const {
        core::Setting s;
        s.school = "mine_1";
        s.gait = core::Gait::trot;
        return yard->knowledge().schools.band(measure, s);
    }
};

TEST_F(CopiedSchool, TellsWhatAChangeWouldChange) {
    copy();
    SchoolsView& view = window->the<SchoolsView>();
    const auto* mine = yard->knowledge().schools.find("mine_1");
    ASSERT_TRUE(mine);
    EXPECT_EQ(mine->inherits, "hunter");
    EXPECT_TRUE(view.difference().contains("Under both: ") && view.difference().contains("tipped forward"))
        << view.difference().toStdString();
    ASSERT_TRUE(write("Trunk lean", BandTable::highest, "60"));
    EXPECT_TRUE(view.difference().contains("Only in Hunter: tipped forward"))
        << view.difference().toStdString();
}

TEST_F(CopiedSchool, IsWrittenInAndTakesTheRestFromItsParent) {
    copy();
    ASSERT_TRUE(write("Trunk lean", BandTable::highest, "60"));
    EXPECT_FALSE(write("Trunk lean", BandTable::highest, "tall")) << "no number";
    EXPECT_FALSE(write("Trunk lean", BandTable::highest, "-20")) << "below its lowest";
    EXPECT_EQ(std::get<core::Band>(band("trunk_lean")).hi, 60);
    EXPECT_EQ(std::get<core::Band>(band("heel_drop")).hi, 20) << "the parent's";
    const BandTable& table = window->the<SchoolsView>().table();
    const auto hip = table.flags(table.index(row_of("Hip"), BandTable::lowest));
    EXPECT_FALSE(hip.testFlag(Qt::ItemIsEditable)) << "the hip follows from the others";
}

TEST_F(CopiedSchool, ABandTakenOutComesBackByUndo) {
    copy();
    ASSERT_TRUE(write("Hand off", BandTable::lowest, "-"));
    EXPECT_TRUE(std::holds_alternative<std::string>(band("hand_line")));
    yard->steps().undo();
    EXPECT_TRUE(std::holds_alternative<core::Band>(band("hand_line")));
}

TEST_F(CopiedSchool, StaysWhileARideGoesByIt) {
    copy();
    store::Ride ride = *yard->records().rides.ride(bench().review().ride().id);
    ride.school = "mine_1";
    app::change_ride(*yard, ride, "School");
    for (QPushButton* button : window->the<SchoolsView>().findChildren<QPushButton*>()) {
        if (button->text().startsWith("Take mine away")) button->click();
    }
    EXPECT_TRUE(yard->knowledge().schools.find("mine_1")) << "a throw while painting would end the program";
}

}  // namespace
}  // namespace aspen::ui
