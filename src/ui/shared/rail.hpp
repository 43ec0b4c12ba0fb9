#pragma once

#include <QPainter>
#include <QRectF>
#include <QString>

#include "core/judging/judgement.hpp"

/// The one picture of a verdict, the same in column, prescription, progress and report: a value as a tick on
/// a short rail with its band thick and the 90 % interval as a soft bar. Shape tells before colour does:
/// inside the bar lies on the band, borderline it straddles an end, outside it stands off and the rail grows
/// a barb on that side, not judged the rail is open.
namespace aspen::ui {

struct RailValue {
    bool judged = false;
    double value = 0, sd = 0;
    std::optional<double> lo, hi;
    core::Verdict verdict = core::Verdict::not_judged;
    bool operator==(const RailValue&) const = default;
};

RailValue rail_value(const core::Judged& judged);
void paint_rail(QPainter& p, const QRectF& area, const RailValue& v);

/// "12.4" with the sign as a minus, "±2.1", and "°" or " %".
QString value_text(double value);
QString error_text(double sd);
QString unit_text(std::string_view unit);
/// "26.0 ± 1.8°, outside, the band is 8.0 to 22.0°"; or why it is not judged.
QString value_words(const core::Judged& judged, const core::SpokenAmounts& amounts);
/// "two fingers", "26°", "not judged".
QString amount_words(const core::Judged& judged, const core::SpokenAmounts& amounts);

}  // namespace aspen::ui
