#pragma once

#include <QRectF>
#include <QString>
#include <optional>
#include <vector>

#include "app/review/bench_state.hpp"
#include "ui/shared/rider_drawing.hpp"

namespace aspen::ui {

/// One thing the column says.
struct ColumnRow {
    enum class Kind {
        out,    ///< strong: what it is, its rail, what its error leaves open
        close,  ///< too close to call, quiet, with what would settle it
        value,  ///< any value, when all are shown
        good,   ///< all that is inside, in one line
        waits   ///< all that is not judged, in one line that says what it waits for
    };
    Kind kind = Kind::value;
    core::Judged judged;  ///< of good and waits: the first of them
    QString words, detail;
    QRectF area;
    QPointF anchor;
};

/// What the column has room for.
struct ColumnRoom {
    double left = 0, wide = 0;  ///< of what hangs on the rider
    double top = 0, bottom = 0;
    QRectF lines;  ///< of the lines under it, their foot at its foot
};

/// The three answers: what is out and what is too close to call, each hung on its part of the body, head to
/// heel; then in a line each what is good and what is waited for. Where nothing is judged yet for want of a
/// school, every value in a line of its own, with how much it is; with `numbers` also what is not judged, and
/// all of it with its number.
std::vector<ColumnRow> column_rows(const app::BenchState& now, const std::vector<core::Judged>& judged,
                                   const core::Figure& figure, const RiderDrawing& rider,
                                   const ColumnRoom& room, bool numbers);

/// The first joint that keeps a measure from being taken.
std::optional<core::Landmark> missing_joint(const core::Judged& j, const core::Figure& f);

}  // namespace aspen::ui
