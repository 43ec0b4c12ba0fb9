#include "app/review/riding.hpp"

#include "app/yard/changes.hpp"

namespace aspen::app {
namespace {

template <typename Value>
void add(std::vector<RidingChoice>& out, const core::Stretch& now, const QString& group,
         std::optional<Value> core::Stretch::*field,
         std::initializer_list<std::pair<Value, QString>> values) {
    for (const auto& [value, words] : values) {
        const bool holds = now.*field == value;
        out.push_back({group, words, holds, [field, value = value, holds](core::Stretch& s) {
                           if (holds)
                               (s.*field).reset();
                           else
                               s.*field = value;
                       }});
    }
}

}  // namespace

std::vector<RidingChoice> riding_choices(const core::Stretch& now) {
    using core::CircleLeg, core::Hands, core::Line, core::ReinsHeld, core::Stirrups;
    using S = core::Stretch;
    std::vector<RidingChoice> out;
    add<Stirrups>(
        out, now, QObject::tr("Stirrups"), &S::stirrups,
        {{Stirrups::on, QObject::tr("with stirrups")}, {Stirrups::off, QObject::tr("without stirrups")}});
    add<ReinsHeld>(out, now, QObject::tr("Reins"), &S::reins,
                   {{ReinsHeld::both, QObject::tr("reins in both hands")},
                    {ReinsHeld::one, QObject::tr("reins in one hand")},
                    {ReinsHeld::none, QObject::tr("no reins")}});
    add<Hands>(out, now, QObject::tr("Hands"), &S::hands,
               {{Hands::reins, QObject::tr("hands at the reins")},
                {Hands::saddle, QObject::tr("a hand on the saddle")},
                {Hands::strap, QObject::tr("a hand on the strap")},
                {Hands::mane, QObject::tr("a hand on the mane")},
                {Hands::out, QObject::tr("arms out")},
                {Hands::thigh, QObject::tr("hands on the thighs")}});
    add<Line>(out, now, QObject::tr("Line"), &S::line,
              {{Line::free, QObject::tr("ridden free")},
               {Line::lunge, QObject::tr("on the lunge")},
               {Line::lead, QObject::tr("on the lead rope")}});
    add<CircleLeg>(out, now, QObject::tr("On a circle"), &S::circle_leg,
                   {{CircleLeg::inner, QObject::tr("the inner leg is seen")},
                    {CircleLeg::outer, QObject::tr("the outer leg is seen")}});
    return out;
}

void riding_from_here(Bench& bench, const RidingChoice& choice) {
    if (!bench.is_open() || !bench.deck().ready()) return;
    set_stretches(bench.yard(), bench.review().clip().id,
                  core::cut_at(bench.review().stretches(), bench.deck().frame(), choice.say),
                  QObject::tr("From here: ") + choice.words);
}

QStringList riding_in_words(const core::Stretch& stretch) {
    QStringList out;
    for (const RidingChoice& c : riding_choices(stretch)) {
        if (c.holds) out << c.words;
    }
    return out;
}

}  // namespace aspen::app
