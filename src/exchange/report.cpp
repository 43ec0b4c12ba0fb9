#include "exchange/report.hpp"

#include "exchange/frame_marks_painter.hpp"

#include <QBuffer>
#include <QPainter>
#include <QPdfWriter>
#include <QSaveFile>
#include <QTextCursor>
#include <QTextDocument>
#include <QUrl>
#include <cmath>

#include "core/reading/refused.hpp"
#include "core/training/exercises.hpp"

namespace aspen::exchange {
namespace {

constexpr const char* kInk = "#22302B";
constexpr const char* kQuiet = "#55625B";
constexpr const char* kSky = "#2F5D8A";
constexpr int kPictureWidth = 500;

QString html(const RiderPage& page, double size) {
    const auto px = [size](double factor) { return QString::number(size * factor, 'f', 1) + "pt"; };
    const auto escaped = [](const QString& s) { return s.toHtmlEscaped(); };
    QString out = QString("<body style='font-family:Lato; color:%1; font-size:%2'>").arg(kInk, px(1));
    const auto heading = [&](const QString& text) {
        return QString(
                   "<p style='font-family:Vollkorn; font-size:%1; font-weight:600; color:%2; margin:10px 0 "
                   "2px 0'>%3</p>")
            .arg(px(1.25), kSky, escaped(text));
    };
    out += QString("<p style='font-family:Vollkorn; font-size:%1; font-weight:700; margin:0'>%2</p>")
               .arg(px(2.3), escaped(page.rider));
    out += QString("<p style='color:%1; margin:0 0 6px 0'>on %2 · %3 · %4</p>")
               .arg(kQuiet, escaped(page.horse), escaped(page.date), escaped(page.coach));
    out += heading(QStringLiteral("What is good"));
    for (const QString& good : page.good)
        out += QString("<p style='margin:1px 0'>✓ %1</p>").arg(escaped(good));
    if (!page.picture.isNull())  // both sides said: with the width alone Qt keeps the picture's own height
        out += QString("<p style='margin:8px 0 0 0'><img src='picture' width='%1' height='%2'></p>")
                   .arg(kPictureWidth)
                   .arg(kPictureWidth * page.picture.height() / page.picture.width());
    out += heading(QStringLiteral("Your one thing: ") + page.focus);
    out += QString("<p style='margin:1px 0'>%1. %2</p>").arg(escaped(page.focus_says), escaped(page.why));
    out += QString("<p style='margin:1px 0; color:%1'>%2</p>").arg(kQuiet, escaped(page.measured));
    out += heading(page.exercise);
    out += QString("<p style='margin:1px 0'>%1</p>").arg(escaped(page.purpose));
    out += QString("<p style='margin:4px 0'><b>%1</b> Start with: %2.</p>")
               .arg(escaped(page.dose), escaped(page.step));
    int rung = 0;
    for (const QString& r : page.ladder)
        out += QString("<p style='margin:0; color:%1'>%2&nbsp;&nbsp;%3</p>")
                   .arg(kQuiet)
                   .arg(++rung)
                   .arg(escaped(r));
    if (!page.rules.isEmpty()) out += QString("<p style='margin:2px 0'>%1</p>").arg(escaped(page.rules));
    if (!page.first.isEmpty())
        out += QString("<p style='margin:2px 0'><b>First stands:</b> %1.</p>").arg(escaped(page.first));
    if (!page.needs.isEmpty())
        out += QString("<p style='margin:2px 0'><b>Must be there:</b> %1.</p>").arg(escaped(page.needs));
    for (const QString& cue : page.cues) out += QString("<p style='margin:1px 0'>“%1”</p>").arg(escaped(cue));
    out += QString(
               "<p style='margin:6px 0'><b>Safety.</b> %1 %2 "
               "Your club's and venue's rules and your instructor come before this page.</p>")
               .arg(escaped(page.caution),
                    escaped(QString::fromUtf8(core::kStopRule.data(),
                                              static_cast<qsizetype>(core::kStopRule.size()))));
    out += QString("<p style='margin:4px 0'><b>Next clip:</b> %1.</p></body>").arg(escaped(page.next_clip));
    return out;
}

/// With ligatures the letters "ti" would be one glyph that cannot be searched, copied or read aloud; Qt
/// leaves ligatures out as soon as letters are spaced, however little.
void space_letters(QTextDocument& document) {
    QTextCursor all(&document);
    all.select(QTextCursor::Document);
    QTextCharFormat spaced;
    spaced.setFontLetterSpacingType(QFont::AbsoluteSpacing);
    spaced.setFontLetterSpacing(0.05);  // less than 1/64 px would count as none
    all.mergeCharFormat(spaced);
}

void draw_figure(QPainter& p, const core::Figure& figure, double size) {
    const auto at = [&](core::Landmark l) { return QPointF(figure[l].at.x, figure[l].at.y); };
    const auto there = [&](core::Landmark l) { return figure[l].visibility != core::Visibility::absent; };
    for (const auto& [a, b] : core::segments_of(figure.view)) {
        if (!there(a) || !there(b)) continue;
        p.setPen(QPen(QColor(20, 26, 24, 150), size * 2.2, Qt::SolidLine, Qt::RoundCap));
        p.drawLine(at(a), at(b));
        p.setPen(QPen(QColor(255, 253, 248), size, Qt::SolidLine, Qt::RoundCap));
        p.drawLine(at(a), at(b));
    }
    if (there(core::Landmark::heel)) {  // the upright through the heel
        const double r = core::radians(figure.camera.roll_deg);
        const QPointF up(std::sin(r), -std::cos(r));
        p.setPen(QPen(QColor(255, 253, 248, 200), size * 0.8, Qt::DashLine));
        p.drawLine(at(core::Landmark::heel), at(core::Landmark::heel) + up * size * 260);
    }
}

}  // namespace

void cover(QImage& picture, const core::Ellipse& face) {
    QPainter p(&picture);
    p.setRenderHint(QPainter::Antialiasing);
    p.translate(face.centre.x, face.centre.y);
    p.rotate(face.angle_deg);
    p.setPen(Qt::NoPen);
    p.setBrush(QColor(0x6f, 0x7a, 0x74));
    p.drawEllipse(QPointF(0, 0), face.long_half, face.short_half);
}

QImage picture_with_figure(const QImage& picture, const core::Figure& figure, bool cover_face,
                           const Annotated& annotated) {
    QImage out = picture.convertToFormat(QImage::Format_RGB32);
    if (const auto face = cover_face ? core::face_ellipse(figure) : std::nullopt) cover(out, *face);
    QPainter p(&out);
    p.setRenderHint(QPainter::Antialiasing);
    const double unit = std::max(1.0, std::min(out.width(), out.height()) / 360.0);
    draw_figure(p, figure, unit);
    QFont font(QStringLiteral("Lato"));
    font.setPixelSize(static_cast<int>(std::lround(13 * unit)));
    font.setBold(true);
    const MarksLook look{[](core::Point q) { return QPointF(q.x, q.y); }, unit, font};
    paint_frame_marks(p, figure, annotated.marks, annotated.target, look);
    paint_drawn(p, annotated.drawn, look);
    return out;
}

void write_pdf(const RiderPage& page, const QString& file) {
    QSaveFile target(file);
    if (!target.open(QIODevice::WriteOnly)) {
        throw core::Refused(
            (file + ": cannot be written (" + target.errorString() + "); choose another folder")
                .toStdString());
    }
    {
        QPdfWriter writer(&target);
        writer.setPageSize(QPageSize(QPageSize::A4));
        writer.setPageMargins(QMarginsF(18, 15, 18, 15), QPageLayout::Millimeter);
        writer.setTitle(page.rider);
        writer.setCreator("Aspen Crest");
        writer.setResolution(96);
        const QSizeF area(writer.width(), writer.height());
        const QImage drawn = page.picture.isNull() ? QImage()
                                                   : picture_with_figure(page.picture, page.figure,
                                                                         page.cover_face, page.annotated);
        QTextDocument document;
        document.setDocumentMargin(0);
        if (!drawn.isNull())
            document.addResource(QTextDocument::ImageResource, QUrl("picture"),
                                 drawn.scaledToWidth(1000, Qt::SmoothTransformation));
        for (double size = 11; size >= 6; size -= 0.5) {
            document.setHtml(html(page, size));
            space_letters(document);
            document.setPageSize(area);
            if (document.pageCount() == 1) break;
        }
        document.print(&writer);
    }
    if (!target.commit())
        throw core::Refused((file + ": could not be finished; check the free space").toStdString());
}

}  // namespace aspen::exchange
