// Corrections of read joints go from one yard to another: without names, once a yard, and count there as
// those of other riders.

#include "app/review/taken_along.hpp"

#include <QFile>
#include <string>

#include "app/yard_fixture.hpp"
#include "core/body/geometry.hpp"

namespace aspen::app {
namespace {

using testing::HasSubstr;
using L = core::Landmark;

class TakenAlong : public YardTest {
  protected:
    /// A moment whose hip was read `by` of the trunk before its place, and moved there.
    void correct_hip(double by) {
        const store::Clip clip = add_clip(("h" + std::to_string(++clips)).c_str(), "2026-11-20");
        store::Moment m;
        m.clip = clip.id;
        m.frame = 10;
        const core::Point shoulder{620, 190}, hip{595, 292};
        m.figure[L::shoulder] = {shoulder, core::Visibility::seen, 1.0};
        m.figure[L::hip] = {hip, core::Visibility::seen, 1.0};
        m.figure[L::hip].put_at = core::Point{hip.x - by * core::distance(shoulder, hip), hip.y};
        add_moment(yard, m);
    }
    QString file() const { return QString::fromStdString((folder / "corrections.json").string()); }
    int clips = 0;
    Yard other{QString::fromStdString((folder / "other").string()), shipped_knowledge()};
};

TEST_F(TakenAlong, CountInTheOtherYardAsAnotherRiders) {
    correct_hip(0.05);
    ASSERT_EQ(save_corrections(yard, file()), "");
    EXPECT_TRUE(taken_along(other).empty());
    ASSERT_EQ(take_corrections(other, file()), "");
    const auto taken = taken_along(other);
    ASSERT_EQ(taken.size(), 1U);
    EXPECT_NEAR(taken[0].at(L::hip).mean.f, 0.05, 1e-9);
    EXPECT_EQ(taken[0].at(L::hip).n, 1);
    // By hand: 0 +- 0.04, of which riders differ by 0.03, against 0.05 +- sqrt(0.03^2 + 0.03^2).
    const auto learned = core::reader_offsets({}, taken);
    const double common = 0.04 * 0.04 - 0.03 * 0.03;
    EXPECT_NEAR(learned.at(L::hip).by.f, 0.05 * common / (common + 2 * 0.03 * 0.03), 1e-9);
}

TEST_F(TakenAlong, BearNobodysName) {
    correct_hip(0.05);
    ASSERT_EQ(save_corrections(yard, file()), "");
    QFile in(file());
    ASSERT_TRUE(in.open(QIODevice::ReadOnly));
    const QByteArray text = in.readAll();
    EXPECT_FALSE(text.contains("Penhallow"));
    EXPECT_FALSE(text.contains("Fig"));
    EXPECT_TRUE(text.contains("hip"));
}

TEST_F(TakenAlong, TakenInAgainTheNewOnesCount) {
    correct_hip(0.05);
    ASSERT_EQ(save_corrections(yard, file()), "");
    ASSERT_EQ(take_corrections(other, file()), "");
    correct_hip(0.05);
    ASSERT_EQ(save_corrections(yard, file()), "");
    ASSERT_EQ(take_corrections(other, file()), "");
    ASSERT_EQ(taken_along(other).size(), 1U) << "one rider, not two";
    EXPECT_EQ(taken_along(other)[0].at(L::hip).n, 2);
}

TEST_F(TakenAlong, WhatCannotBeTakenIsOneLine) {
    EXPECT_THAT(save_corrections(yard, file()).toStdString(), HasSubstr("nothing to take along"));
    EXPECT_FALSE(QFile::exists(file()));
    EXPECT_THAT(take_corrections(yard, file()).toStdString(), HasSubstr("cannot be opened"));
    correct_hip(0.05);
    ASSERT_EQ(save_corrections(yard, file()), "");
    EXPECT_THAT(take_corrections(yard, file()).toStdString(), HasSubstr("own corrections"));
    EXPECT_TRUE(taken_along(yard).empty());
    QFile broken(file());
    ASSERT_TRUE(broken.open(QIODevice::WriteOnly));
    broken.write("{");
    broken.close();
    EXPECT_EQ(take_corrections(other, file()).count('\n'), 0);
    EXPECT_NE(take_corrections(other, file()), "");
}

}  // namespace
}  // namespace aspen::app
