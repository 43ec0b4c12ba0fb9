#include "ui/progress/season_page.hpp"

#include <QImage>
#include <QPainter>
#include <QPdfWriter>
#include <QSaveFile>

#include "ui/progress/lane_painter.hpp"
#include "ui/progress/time_head.hpp"
#include "ui/shared/theme.hpp"
#include "ui/shared/widgets.hpp"

namespace aspen::ui {
namespace {

// Pixels of 96 dpi on A4 with its margins of 16 mm.
constexpr double kSeasonWide = 673, kSeasonHigh = 1001, kLane = 196, kPlot = 118, kFirst = 138;
constexpr double kLimits = 178;  // left of the plot the band's ends are said in words
constexpr int kOnFirst = 4, kOnSecond = 5;

class Season {
  public:
    Season(QPainter& p, const app::ProgressDesk& desk, double today) : p_(p), desk_(desk), today_(today) {
        double first = today;
        for (const app::Lane& lane : desk.all_lanes()) {
            first = std::min(first, TimeAxis::days(QString::fromStdString(lane.correction.noticed_on)));
            if (!lane.entries.empty()) first = std::min(first, when(lane.entries.front()));
        }
        axis_.set_whole(first, today);
        axis_.set_area(kLimits + 8, kSeasonWide - 12);
    }

    void head() {
        const app::ProgressDesk::Glance g = desk_.glance();
        words(QRectF(0, 0, kSeasonWide, 40), heading_font(26), theme().ink, desk_.rider_name());
        QStringList parts;
        if (g.settled) parts << QObject::tr("%1 settled").arg(g.settled);
        if (g.holding) parts << QObject::tr("%1 holding").arg(g.holding);
        if (g.in_work) parts << QObject::tr("%1 in work").arg(g.in_work);
        if (g.came_back) parts << QObject::tr("%1 came back").arg(g.came_back);
        if (g.noticed) parts << QObject::tr("%1 noticed").arg(g.noticed);
        words(QRectF(0, 40, kSeasonWide, 22), text_font(14, true), theme().ink, parts.join("   ·   "));
        words(QRectF(0, 62, kSeasonWide, 20), text_font(12), theme().quiet,
              QObject::tr("%1 to %2. The soft bar is a value's 90 % interval, the band what is asked.")
                  .arg(spoken_date(TimeAxis::day(axis_.from()).toString(Qt::ISODate)),
                       spoken_date(TimeAxis::day(today_).toString(Qt::ISODate))));
        ticks(92);
        double y = 116;
        double free_from = 0;
        for (const app::TimeMark& m : desk_.marks()) {
            const double x = axis_.x(TimeAxis::days(m.day));
            if (x < 0 || x < free_from) continue;
            paint_mark(p_, {x, y}, m.kind, theme().ink);
            const QString what = QFontMetrics(text_font(12)).elidedText(m.words, Qt::ElideRight, 120);
            words(QRectF(x + 10, y - 9, 130, 18), text_font(12), theme().quiet, what);
            free_from = x + 24 + QFontMetrics(text_font(12)).horizontalAdvance(what);
        }
    }
    void ticks(double y) {
        for (const TimeAxis::Tick& t : axis_.ticks()) {
            p_.setPen(QPen(theme().line, 1));
            p_.drawLine(QPointF(axis_.x(t.at), y), QPointF(axis_.x(t.at), y + 12));
            words(QRectF(axis_.x(t.at) + 4, y - 4, 90, 18), text_font(12, t.strong), theme().quiet, t.words);
        }
    }
    void lane(const app::Lane& lane, double y) {
        const QString seen = text(core::spoken(lane.correction.seen));
        words(QRectF(0, y, kSeasonWide * 0.62, 26), heading_font(18), theme().ink,
              QString::fromStdString(lane.fault->name));
        words(QRectF(kSeasonWide * 0.5, y, kSeasonWide * 0.5, 26), text_font(12), theme().quiet,
              lane.horse + (seen.isEmpty() ? QString() : ", " + seen), Qt::AlignRight | Qt::AlignVCenter);
        LanePainter(lane, axis_, QRectF(kLimits, y + 28, kSeasonWide - kLimits, kPlot), today_).paint(p_);
        p_.setPen(QPen(theme().line, 1));
        p_.setBrush(Qt::NoBrush);
        p_.drawRect(QRectF(kLimits, y + 28, kSeasonWide - kLimits, kPlot));
        QStringList said{text(core::spoken(lane.stage)) + ": " + lane.why, lane.change};
        if (!lane.trend_says.isEmpty()) said << lane.trend_says;
        for (QString& s : said) s = sentence(s) + ".";
        words(QRectF(0, y + 30 + kPlot, kSeasonWide, 38), text_font(12), theme().ink, said.join(" "),
              Qt::AlignLeft | Qt::TextWordWrap);
    }
    void words(const QRectF& area, QFont font, const QColor& colour, const QString& said,
               int how = Qt::AlignLeft | Qt::AlignVCenter) {
        // With ligatures "ti" would be one glyph that cannot be searched or read aloud.
        font.setLetterSpacing(QFont::AbsoluteSpacing, 0.05);
        p_.setFont(font);
        p_.setPen(colour);
        p_.drawText(area, how, said);
    }

  private:
    QPainter& p_;
    const app::ProgressDesk& desk_;
    double today_;
    TimeAxis axis_;
};

QString paint_season(const app::ProgressDesk& desk, const QString& file) {
    const auto& lanes = desk.all_lanes();
    QSaveFile to(file);
    if (!to.open(QIODevice::WriteOnly))
        return QObject::tr("%1: cannot be written; choose another folder.").arg(file);
    {
        const PrintedTheme printed;
        QPdfWriter writer(&to);
        writer.setPageSize(QPageSize(QPageSize::A4));
        writer.setPageMargins(QMarginsF(16, 16, 16, 16), QPageLayout::Millimeter);
        writer.setResolution(96);
        writer.setTitle(desk.rider_name() + QObject::tr(": a season"));
        QPainter p(&writer);
        Season season(p, desk, TimeAxis::days(QString::fromStdString(desk.yard().today_iso())));
        season.head();
        const int n = std::min(static_cast<int>(lanes.size()), kOnFirst + kOnSecond);
        for (int i = 0; i < n; ++i) {
            if (i == kOnFirst) {
                writer.newPage();
                season.ticks(6);
            }
            const double y = i < kOnFirst ? kFirst + i * (kLane + 18) : 30 + (i - kOnFirst) * kLane;
            season.lane(lanes[static_cast<std::size_t>(i)], y);
        }
        QStringList more;
        for (std::size_t i = static_cast<std::size_t>(n); i < lanes.size(); ++i)
            more << QString::fromStdString(lanes[i].fault->name);
        if (!more.isEmpty())
            season.words(QRectF(0, kSeasonHigh - 20, kSeasonWide, 20), text_font(12), theme().quiet,
                         QObject::tr("Not shown: ") + more.join(", "));
    }
    return to.commit() ? QString() : QObject::tr("%1: cannot be written; choose another folder.").arg(file);
}

QString paint_lane(const app::ProgressDesk& desk, const app::Lane& lane, const QString& file) {
    constexpr int kMargin = 24, kSharp = 2, kAnswer = 44;
    const PrintedTheme printed;
    QImage picture(kSharp * QSize(static_cast<int>(kSeasonWide) + 2 * kMargin,
                                  static_cast<int>(kLane) + 40 + kAnswer + 24 + 2 * kMargin),
                   QImage::Format_RGB32);
    picture.fill(theme().panel);
    QPainter p(&picture);
    p.setRenderHint(QPainter::Antialiasing);
    p.scale(kSharp, kSharp);
    p.translate(kMargin, kMargin);
    Season season(p, desk, TimeAxis::days(QString::fromStdString(desk.yard().today_iso())));
    season.words(QRectF(0, 0, kSeasonWide, 40), heading_font(26), theme().ink, desk.rider_name());
    season.words(QRectF(0, 42, kSeasonWide, kAnswer), text_font(14, true), theme().ink, sentence(lane.answer),
                 Qt::AlignLeft | Qt::AlignTop | Qt::TextWordWrap);
    season.lane(lane, 40 + kAnswer);
    season.ticks(40 + kAnswer + kLane);
    p.end();
    return picture.save(file, "PNG") ? QString()
                                     : QObject::tr("%1: cannot be written; choose another folder.").arg(file);
}

}  // namespace

QString save_lane_picture(const app::Permit& permit, const app::ProgressDesk& desk, const app::Lane& lane,
                          const QString& file) {
    const QString line = app::leave(desk.yard(), permit,
                                    {"page", QObject::tr("one correction's lane").toStdString(), file, false},
                                    [&](const QString& to) { return paint_lane(desk, lane, to); });
    return line.isEmpty() ? QObject::tr("Written: ") + file : line;
}

QString print_season(const app::Permit& permit, const app::ProgressDesk& desk, const QString& file) {
    if (desk.all_lanes().empty()) return QObject::tr("There is no correction to print yet.");
    const QString line =
        app::leave(desk.yard(), permit, {"page", QObject::tr("the season").toStdString(), file, false},
                   [&](const QString& to) { return paint_season(desk, to); });
    return line.isEmpty() ? QObject::tr("Written: ") + file : line;
}

}  // namespace aspen::ui
