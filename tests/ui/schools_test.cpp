// A coach's own school: copied, written in, laid beside another on one pose, and what changes in the open
// ride.

#include <QTableView>

#include "app/review/first_look.hpp"
#include "app/yard/changes.hpp"
#include "ui/schools/schools_view.hpp"
#include "ui/window_support.hpp"

namespace aspen::ui {
namespace {

class OwnSchools : public Window {
  protected:
    int row_of(const char* words) {
        BandTable& t = window->schools().table();
        for (int r = 0; r < t.rowCount(); ++r) {
            if (t.index(r, BandTable::measure_column).data().toString().startsWith(words)) return r;
        }
        return -1;
    }
    bool write(const char* words, BandTable::Column column, const QString& value) {
        BandTable& t = window->schools().table();
        return t.setData(t.index(row_of(words), column), value, Qt::EditRole);
    }
};

TEST_F(OwnSchools, AreCopiedWrittenInAndTellWhatChanges) {
    bring_in_ridden();
    mark_from_truth(10);
    ASSERT_EQ(bench().review().ride().school, "hunter");
    window->show_view(ViewName::schools);
    SchoolsView& view = window->schools();
    EXPECT_FALSE(write("Trunk lean", BandTable::highest, "60")) << "the shipped ones stay as they ship";
    view.copy();
    const auto* mine = yard->knowledge().schools.find("mine_1");
    ASSERT_TRUE(mine);
    EXPECT_EQ(mine->inherits, "hunter");
    EXPECT_TRUE(view.difference().contains("Under both: ") && view.difference().contains("tipped forward"))
        << view.difference().toStdString();
    ASSERT_TRUE(write("Trunk lean", BandTable::highest, "60"));
    EXPECT_TRUE(view.difference().contains("Only in Hunter: tipped forward"))
        << view.difference().toStdString();
    EXPECT_FALSE(write("Trunk lean", BandTable::highest, "tall")) << "no number";
    EXPECT_FALSE(write("Trunk lean", BandTable::highest, "-20")) << "below its lowest";
    core::Setting s;
    s.school = "mine_1";
    s.gait = core::Gait::trot;
    EXPECT_EQ(std::get<core::Band>(yard->knowledge().schools.band("trunk_lean", s)).hi, 60);
    EXPECT_EQ(std::get<core::Band>(yard->knowledge().schools.band("heel_drop", s)).hi, 20) << "the parent's";
    ASSERT_TRUE(write("Hand off", BandTable::lowest, "-"));
    EXPECT_TRUE(std::holds_alternative<std::string>(yard->knowledge().schools.band("hand_line", s)));
    const auto hip = view.table().flags(view.table().index(row_of("Hip"), BandTable::lowest));
    EXPECT_FALSE(hip.testFlag(Qt::ItemIsEditable)) << "the hip follows from the others";
    yard->undo();
    EXPECT_TRUE(std::holds_alternative<core::Band>(yard->knowledge().schools.band("hand_line", s)));
    // One that a ride goes by stays; a throw while painting would end the program.
    store::Ride ride = *yard->records().ride(bench().review().ride().id);
    ride.school = "mine_1";
    app::change_ride(*yard, ride, "School");
    for (QPushButton* button : view.findChildren<QPushButton*>()) {
        if (button->text().startsWith("Take mine away")) button->click();
    }
    EXPECT_TRUE(yard->knowledge().schools.find("mine_1"));
}

}  // namespace
}  // namespace aspen::ui
