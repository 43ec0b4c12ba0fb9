// The plates of the book of exercises: one for every exercise that ships, each as its data say, drawn by the
// simulator's own rider and horse.

#include <gmock/gmock.h>

#include <cmath>
#include <fstream>
#include <set>
#include <sstream>

#include "core/core_support.hpp"
#include "core/training/exercises.hpp"
#include "simulate/plate.hpp"

namespace aspen::simulate {
namespace {

using testing::HasSubstr;

const PlateBook& book() {
    static const PlateBook all = [] {
        std::ifstream in(ASPEN_SOURCE_DIR "/data/exercise_plates.json");
        std::stringstream text;
        text << in.rdbuf();
        return PlateBook(text.str(), "exercise_plates.json");
    }();
    return all;
}
double apart(const Vec3& a, const Vec3& b) { return std::hypot(a.x - b.x, a.y - b.y); }

TEST(Plates, EveryExerciseThatShipsHasOne) {
    std::set<std::string> drawn;
    for (const core::Exercise& e : test::knowledge().exercises.all()) {
        EXPECT_TRUE(book().find(e.id)) << e.id;
        drawn.insert(e.id);
    }
    for (const auto& [id, plate] : book().all())
        EXPECT_TRUE(drawn.contains(id)) << id << " belongs to nothing";
}

TEST(Plates, ShowWhatTheirExerciseIsRiddenIn) {
    for (const core::Exercise& e : test::knowledge().exercises.all()) {
        const Plate& plate = *book().find(e.id);
        const auto has = [&](auto&& what) { return std::ranges::any_of(e.dose.ladder, what); };
        const bool on_foot = std::ranges::all_of(
            e.dose.ladder, [](const core::Rung& r) { return r.work == core::Work::unmounted; });
        EXPECT_EQ(plate.horse, !on_foot) << e.id;
        if (std::ranges::all_of(e.dose.ladder, [](const core::Rung& r) { return !r.stirrups; })) {
            EXPECT_FALSE(plate.irons) << e.id << " is ridden without stirrups";
        }
        if (std::ranges::all_of(e.dose.ladder, [](const core::Rung& r) { return r.reins == "none"; })) {
            EXPECT_TRUE(!plate.reins || plate.hands != "rein") << e.id << " is ridden without reins";
        }
        if (plate.over_fence) {
            EXPECT_TRUE(has([](const core::Rung& r) { return r.work == core::Work::jump; })) << e.id;
        }
    }
}

TEST(Plates, OfACopyIsThatOfItsSource) {
    EXPECT_EQ(book().find("two_point_walk_trot_1"), book().find("two_point_walk_trot"));
    EXPECT_EQ(book().find("two_point_walk_trot_1_2"), book().find("two_point_walk_trot"));
    EXPECT_EQ(book().find("my_own_thing"), nullptr);
    EXPECT_EQ(book().find(""), nullptr);
}

TEST(Plates, AreRefusedByFileAndField) {
    const auto refusal = [](const char* json) {
        try {
            PlateBook(json, "plates.json");
        } catch (const core::Refused& e) {
            return std::string(e.what());
        }
        return std::string("taken");
    };
    EXPECT_THAT(refusal(R"({"plates": {"a": {"wings": 2}}})"),
                HasSubstr("plates.json: plate \"a\": \"wings\""));
    EXPECT_THAT(refusal(R"({"plates": {"a": {"gait": "fly"}}})"), HasSubstr("plate \"a\""));
    EXPECT_THAT(refusal(R"({"plates": {"a": {"way": [["curl", 1, 2, 3, 4]]}}})"),
                HasSubstr("a line or an arc"));
    EXPECT_THAT(refusal("[]"), HasSubstr("plates.json"));
    EXPECT_EQ(refusal(R"({"plates": {"a": {"gait": "trot"}}})"), "taken");
}

TEST(Plates, HandsLieWhereTheExercisePutsThem) {
    const auto hand = [](const char* id) {
        const Instant now = plate_instant(*book().find(id));
        return std::pair{now.rider_right.at("knuckle"), now};
    };
    const auto [mane, riding] = hand("touch_mane_second_stride");
    EXPECT_LT(apart(mane, riding.horse.at("withers")), 0.45);
    EXPECT_GT(apart(riding.rider_left.at("knuckle"), mane), 0.03) << "the other hand keeps its rein";
    const auto [out, wide] = hand("arms_out_on_lunge");
    EXPECT_NEAR(out.y, wide.rider_right.at("shoulder").y, 0.05);
    EXPECT_GT(out.z - wide.rider_right.at("shoulder").z, 0.5);
    const auto [thigh, held] = hand("hand_behind_the_thigh");
    EXPECT_LT(apart(thigh, held.rider_right.at("hip")), 0.40);
}

TEST(Plates, LimbsKeepTheirLengthWhereverTheHandIs) {
    for (const auto& [id, plate] : book().all()) {
        if (!plate.horse) continue;
        const Instant now = plate_instant(plate);
        const auto& arm = now.rider_right;
        const auto length = [&](const char* a, const char* b) {
            const Vec3 p = arm.at(a), q = arm.at(b);
            return std::hypot(p.x - q.x, p.y - q.y, p.z - q.z);
        };
        EXPECT_LT(length("shoulder", "elbow"), 0.36) << id;
        EXPECT_LT(length("elbow", "wrist"), 0.34) << id;
        EXPECT_GT(length("shoulder", "elbow") + length("elbow", "wrist"), 0.45) << id;
    }
}

/// Every landmark that a plate names is one that is there: drawing it would throw otherwise. And it is a
/// picture: something stands on the paper, in light and in dark.
TEST(Plates, AreDrawnInLightAndDark) {
    for (const PlateTones& tones :
         {PlateTones{},
          PlateTones{QColor(0xed, 0xe9, 0xde), QColor(0xa8, 0xb2, 0xab), QColor(0x22, 0x2a, 0x27)}}) {
        for (const auto& [id, plate] : book().all()) {
            QImage paper(240, 160, QImage::Format_RGB32);
            paper.fill(tones.paper);
            const QImage bare = paper;
            QPainter p(&paper);
            ASSERT_NO_THROW(paint_plate(p, paper.rect(), plate, tones)) << id;
            p.end();
            int inked = 0;
            for (int y = 0; y < paper.height(); ++y)
                for (int x = 0; x < paper.width(); ++x)
                    inked += paper.pixel(x, y) != bare.pixel(x, y) ? 1 : 0;
            EXPECT_GT(inked, 1200) << id;
            EXPECT_LT(inked, 240 * 160 * 2 / 3) << id;
        }
    }
}

}  // namespace
}  // namespace aspen::simulate
