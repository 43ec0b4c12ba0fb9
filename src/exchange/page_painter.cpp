#include <QPainterPath>
#include <QTextLayout>
#include <algorithm>
#include <cmath>

#include "exchange/handed_page.hpp"
#include "exchange/pdf_file.hpp"

/// The rider's page, painted.
namespace aspen::exchange {
namespace {

const QColor kPaper(0xFF, 0xFD, 0xF8), kInk(0x22, 0x30, 0x2B), kQuiet(0x55, 0x62, 0x5B),
    kSky(0x2F, 0x5D, 0x8A), kTeal(0x17, 0x6B, 0x58), kGold(0x8A, 0x64, 0x10), kLine(0xD9, 0xD3, 0xC4),
    kWash(0xF5, 0xF1, 0xE8);
constexpr double kA4Wide = 794, kA4High = 1123, kMargin = 56;  // at 96 dpi
constexpr double kLeading = 1.12;  // of a line's own height: lines that do not stick to each other
constexpr double kLeast = 0.72;    // of the usual size; below it nobody reads

QFont font(const char* family, double px, bool bold = false, bool italic = false) {
    QFont f(QString::fromLatin1(family));
    f.setPixelSize(std::max(1, static_cast<int>(std::lround(px))));
    f.setBold(bold);
    f.setItalic(italic);
    // With ligatures the letters "ti" would be one glyph that cannot be searched, copied or read aloud; Qt
    // leaves them out as soon as letters are spaced, however little.
    f.setLetterSpacing(QFont::AbsoluteSpacing, 0.05);
    return f;
}

/// Lays words into lines with some air between them and, with a painter, draws them; gives their height.
double words_in_lines(QPainter* p, QPointF at, double wide, const QString& words, const QFont& f) {
    QString text = words;
    QTextLayout layout(text.replace('\n', QChar::LineSeparator), f);
    layout.beginLayout();
    double y = 0;
    for (QTextLine line = layout.createLine(); line.isValid(); line = layout.createLine()) {
        line.setLineWidth(wide);
        line.setPosition({0, y});
        y += line.height() * kLeading;
    }
    layout.endLayout();
    if (p) layout.draw(p, at);
    return y;
}

/// Paints from top to bottom in one column and knows how far it is.
class Column {
  public:
    Column(QPainter& p, double x, double y, double wide) : p_(p), x_(x), y_(y), wide_(wide) {}
    double y() const { return y_; }
    double x() const { return x_; }
    double wide() const { return wide_; }
    void space(double by) { y_ += by; }

    void text(const QString& words, const QFont& f, const QColor& colour, double indent = 0) {
        if (words.isEmpty()) return;
        p_.setPen(colour);
        y_ += words_in_lines(&p_, {x_ + indent, y_}, wide_ - indent, words, f);
    }
    void picture(const QImage& image, double high) {
        if (image.isNull()) return;
        const QSizeF size = QSizeF(image.size()).scaled(wide_, high, Qt::KeepAspectRatio);
        QPainterPath round;
        const QRectF at(QPointF(x_, y_), size);
        round.addRoundedRect(at, 6, 6);
        p_.save();
        p_.setClipPath(round);
        p_.drawImage(at, image);
        p_.restore();
        y_ += size.height();
    }

  private:
    QPainter& p_;
    double x_, y_, wide_;
};

class PagePainter {
  public:
    PagePainter(QPainter& p, const HandedPage& page, double wide, double size)
        : p_(p), page_(page), wide_(wide), s_(size * (page.child ? 1.18 : 1)) {
        p_.setRenderHints(QPainter::Antialiasing | QPainter::SmoothPixmapTransform);
    }

    double paint() {
        Column c(p_, 0, 0, wide_);
        head(c);
        good(c);
        one_thing(c);
        const double top = c.y() + 16 * s_;
        const double gap = 28 * s_;
        Column left(p_, 0, top, (wide_ - gap) * 0.56),
            right(p_, (wide_ - gap) * 0.56 + gap, top, (wide_ - gap) * 0.44);
        exercise(left);
        beside(right);
        Column foot(p_, 0, std::max(left.y(), right.y()) + 14 * s_, wide_);
        lines(foot);
        week(foot);
        next_clip(foot);
        return foot.y();
    }

  private:
    QFont body(bool bold = false) const { return font("Lato", 13 * s_, bold); }
    QFont small(bool bold = false) const { return font("Lato", 11.5 * s_, bold); }
    void heading(Column& c, const QString& words, const QColor& colour = kSky) {
        c.text(words, font("Vollkorn", 17 * s_, true), colour);
        c.space(2 * s_);
    }

    void head(Column& c) {
        leaf(QPointF(wide_ - 18 * s_, 20 * s_), 15 * s_);
        c.text(page_.rider, font("Vollkorn", 34 * s_, true), kInk);
        QStringList about;
        if (!page_.horse.isEmpty()) about << (QObject::tr("on ") + page_.horse);
        about << page_.date << (QObject::tr("from ") + page_.coach);
        c.text(about.join("  ·  "), small(), kQuiet);
        c.space(5 * s_);
        p_.setPen(QPen(kGold, 1.6 * s_));
        p_.drawLine(QPointF(0, c.y()), QPointF(wide_, c.y()));
        c.space(10 * s_);
    }

    void leaf(QPointF at, double r) {
        QPainterPath path(at + QPointF(0, -r));
        path.cubicTo(at + QPointF(r * 1.1, -r * 0.5), at + QPointF(r * 0.9, r * 0.6), at + QPointF(0, r));
        path.cubicTo(at + QPointF(-r * 0.9, r * 0.6), at + QPointF(-r * 1.1, -r * 0.5), at + QPointF(0, -r));
        p_.fillPath(path, kGold);
        p_.setPen(QPen(kPaper, 1.2 * s_));
        p_.drawLine(at + QPointF(0, -r * 0.7), at + QPointF(0, r * 1.2));
    }

    void good(Column& c) {
        const double top = c.y();
        Column inside(p_, 14 * s_, top, wide_ - 14 * s_);
        heading(inside, QObject::tr("What is good"), kTeal);
        for (const QString& g : page_.good) inside.text(g, body(true), kInk);
        p_.fillRect(QRectF(0, top + 3 * s_, 4 * s_, inside.y() - top - 3 * s_), kTeal);
        c.space(inside.y() - top + 12 * s_);
    }

    void one_thing(Column& c) {
        c.text(QObject::tr("Your one thing"), small(true), kQuiet);
        c.text(page_.focus, font("Vollkorn", 25 * s_, true), kSky);
        if (page_.child && !page_.cue.isEmpty())
            c.text("“" + page_.cue + "”", font("Vollkorn", 20 * s_, false, true), kInk);
        else
            c.text(page_.says, body(), kInk);
        c.space(8 * s_);
        if (!page_.then.isNull()) {
            two_pictures(c);
        } else {
            c.picture(page_.picture, 300 * s_);
        }
        c.space(6 * s_);
        if (!page_.change.isEmpty()) c.text(page_.change, body(true), kTeal);
        if (!page_.why.isEmpty()) c.text(page_.why, font("Lato", 13 * s_, false, true), kInk);
    }

    void two_pictures(Column& c) {
        const double gap = 10 * s_, half = (wide_ - gap) / 2, top = c.y();
        double low = top;
        for (const auto& [x, picture, day] :
             {std::tuple{0.0, &page_.then, &page_.then_day}, {half + gap, &page_.picture, &page_.now_day}}) {
            Column side(p_, x, top, half);
            side.picture(*picture, 250 * s_);
            side.space(2 * s_);
            side.text(*day, small(true), kQuiet);
            low = std::max(low, side.y());
        }
        c.space(low - top);
    }

    void exercise(Column& c) {
        heading(c, page_.exercise);
        if (!page_.child) c.text(page_.purpose, body(), kInk);
        c.text(page_.dose, body(true), kInk);
        if (!page_.child && !page_.cue.isEmpty())
            c.text("“" + page_.cue + "”", font("Lato", 13 * s_, false, true), kInk);
        c.space(8 * s_);
        ladder(c);
        c.space(4 * s_);
        rule(c, QObject::tr("A good ride"), page_.good_ride);
        if (page_.child) return;
        rule(c, QObject::tr("Up"), page_.up);
        rule(c, QObject::tr("Down"), page_.down);
    }
    void rule(Column& c, const QString& name, const QString& words) {
        if (words.isEmpty()) return;
        c.text(name + ": " + words + ".", small(), kInk);
        c.space(1 * s_);
    }

    /// Rungs between two rails, climbed from below: the easiest is the lowest, but read first.
    void ladder(Column& c) {
        const auto n = static_cast<int>(page_.ladder.size());
        if (n == 0) return;
        const double rail = 26 * s_, indent = rail + 12 * s_, top = c.y();
        std::vector<double> middles;
        Column rungs(p_, c.x(), top, c.wide());
        for (int i = 0; i < n; ++i) {
            const double from = rungs.y();
            const bool here = i == page_.rung;
            rungs.text(page_.ladder[i] + (here ? QObject::tr("  — start here") : QString()), small(here),
                       i < page_.rung ? kQuiet : kInk, indent);
            rungs.space(5 * s_);
            middles.push_back((from + rungs.y() - 5 * s_) / 2);
        }
        p_.setPen(QPen(kQuiet, 1.6 * s_));
        for (const double x : {c.x() + 4 * s_, c.x() + rail - 2 * s_})
            p_.drawLine(QPointF(x, top - 1 * s_), QPointF(x, rungs.y() - 3 * s_));
        for (int i = 0; i < n; ++i) {
            const bool here = i == page_.rung;
            p_.setPen(QPen(i <= page_.rung ? kSky : kLine, (here ? 5 : 3) * s_, Qt::SolidLine, Qt::FlatCap));
            p_.drawLine(QPointF(c.x() + 4 * s_, middles[static_cast<std::size_t>(i)]),
                        QPointF(c.x() + rail - 2 * s_, middles[static_cast<std::size_t>(i)]));
        }
        c.space(rungs.y() - top);
    }

    void list(Column& c, const QString& name, const QStringList& all) {
        if (all.isEmpty()) return;
        c.text(name, small(true), kInk);
        c.text(all.join(", "), small(), kInk);
        c.space(6 * s_);
    }
    void beside(Column& c) {
        list(c, QObject::tr("First stands"), page_.first);
        list(c, QObject::tr("Must be there"), page_.people + page_.things);
        for (const QString& way : page_.ways) c.text(way, small(), kInk);
        if (!page_.ways.isEmpty()) c.space(6 * s_);
        const double top = c.y(), pad = 10 * s_;
        // Painted twice: the box under the words is as high as they are.
        for (const bool box : {true, false}) {
            Column inside(p_, c.x() + pad, top + pad, c.wide() - 2 * pad);
            inside.text(QObject::tr("When to stop"), font("Vollkorn", 14 * s_, true), box ? kWash : kInk);
            if (box) {
                const double high =
                    words_high(page_.stop, inside.wide()) + words_high(page_.caution, inside.wide());
                const QRectF all(c.x(), top, c.wide(), inside.y() - top + high + pad + 3 * s_);
                p_.setPen(QPen(kInk, 1.2 * s_));
                p_.setBrush(kWash);
                p_.drawRoundedRect(all, 6, 6);
                p_.setBrush(Qt::NoBrush);
                continue;
            }
            inside.text(page_.stop, small(), kInk);
            inside.space(3 * s_);
            inside.text(page_.caution, small(), kInk);
            c.space(inside.y() - top + pad);
        }
    }
    double words_high(const QString& words, double wide) {
        return words_in_lines(nullptr, {}, wide, words, small());
    }

    /// Beside the focus: for the horse, off it.
    void lines(Column& c) {
        for (const QString& line : page_.lines) {
            c.text(line, small(), kInk);
            c.space(4 * s_);
        }
        if (!page_.lines.isEmpty()) c.space(8 * s_);
    }

    void week(Column& c) {
        if (page_.week.isEmpty()) return;
        heading(c, QObject::tr("Your week"));
        const double gap = 6 * s_, wide = (wide_ - 6 * gap) / 7, high = 44 * s_;
        for (qsizetype i = 0; i < page_.week.size(); ++i) {
            const HandedPage::Day& d = page_.week[i];
            const QRectF at(static_cast<double>(i) * (wide + gap), c.y(), wide, high);
            const bool rides = !d.minutes.isEmpty();
            p_.setPen(Qt::NoPen);
            p_.setBrush(rides ? kWash : QColor(Qt::transparent));
            p_.drawRoundedRect(at, 5, 5);
            p_.setPen(rides ? kInk : kQuiet);
            p_.setFont(small(rides));
            p_.drawText(at.adjusted(8 * s_, 5 * s_, 0, 0), Qt::AlignLeft | Qt::AlignTop, d.name);
            p_.setFont(font("Lato", 15 * s_, true));
            if (rides)
                p_.drawText(at.adjusted(8 * s_, 0, 0, -5 * s_), Qt::AlignLeft | Qt::AlignBottom, d.minutes);
        }
        p_.setBrush(Qt::NoBrush);
        c.space(high + 12 * s_);
    }

    void next_clip(Column& c) {
        if (page_.shots.isEmpty()) return;
        const double top = c.y(), drawing = 150 * s_;
        Column words(p_, 0, top, wide_ - drawing - 20 * s_);
        heading(words, page_.clip_on.isEmpty() ? QObject::tr("Your next clip")
                                               : QObject::tr("Your next clip, by %1").arg(page_.clip_on));
        for (const QString& s : page_.shots) {
            p_.setPen(kQuiet);
            words_in_lines(&p_, {words.x(), words.y()}, 12 * s_, "–", small());
            words.text(s, small(), kInk, 12 * s_);
        }
        paint_where_to_stand(p_, QRectF(wide_ - drawing, top + 4 * s_, drawing, 88 * s_), page_.stand);
        c.space(std::max(words.y() - top, 92 * s_));
    }

    QPainter& p_;
    const HandedPage& page_;
    double wide_, s_;
};

/// The largest size at which it fits on one page.
double size_that_fits(const HandedPage& page, double wide, double high) {
    QImage canvas(8, 8, QImage::Format_RGB32);
    QPainter p(&canvas);
    double size = 1;
    for (; size > kLeast; size -= 0.02) {
        if (PagePainter(p, page, wide, size).paint() <= high) break;
    }
    return size;
}

}  // namespace

void paint_where_to_stand(QPainter& p, const QRectF& area, core::View from) {
    p.save();
    p.setRenderHint(QPainter::Antialiasing);
    p.setPen(QPen(kLine, 1.5));
    p.setBrush(Qt::NoBrush);
    p.drawRoundedRect(area, 3, 3);
    const bool side = from == core::View::side;
    const QPointF horse = side ? QPointF(area.center().x(), area.top() + area.height() * 0.26)
                               : QPointF(area.left() + area.width() * 0.68, area.center().y());
    const QPointF camera = side ? QPointF(area.center().x(), area.bottom() - area.height() * 0.14)
                                : QPointF(area.left() + area.width() * 0.12, area.center().y());
    const double r = area.height() * 0.1;
    QPainterPath cone(camera);
    const QPointF spread = side ? QPointF(area.width() * 0.3, 0) : QPointF(0, area.height() * 0.32);
    cone.lineTo(horse - spread);
    cone.lineTo(horse + spread);
    cone.closeSubpath();
    p.fillPath(cone, QColor(kSky.red(), kSky.green(), kSky.blue(), 36));
    p.setPen(QPen(kQuiet, 1.5, Qt::DashLine));
    p.drawLine(QPointF(area.left() + 6, horse.y()), QPointF(area.right() - 6, horse.y()));
    p.setPen(Qt::NoPen);
    p.setBrush(kInk);
    p.drawEllipse(horse, r * 1.8, r * 0.7);                        // the horse from above
    p.drawEllipse(horse + QPointF(r * 2.2, 0), r * 0.7, r * 0.4);  // its head
    p.setBrush(kGold);
    p.drawEllipse(horse - QPointF(r * 0.2, 0), r * 0.55, r * 0.55);
    p.setBrush(kSky);
    p.drawRoundedRect(QRectF(camera - QPointF(r * 0.8, r * 0.6), QSizeF(r * 1.6, r * 1.2)), 2, 2);
    p.setPen(kInk);
    const QRectF words(area.left() + 5, side ? area.bottom() - area.height() * 0.58 : area.top() + 3,
                       area.width() * (side ? 0.37 : 0.9), area.height() * (side ? 0.56 : 0.28));
    const QString said =
        side ? QObject::tr("square on,\nhip high,\nstill") : QObject::tr("on the line, behind");
    // As large as its room allows: no word is cut.
    double px = area.height() * 0.13;
    for (; px > 4; px -= 0.5) {
        p.setFont(font("Lato", px));
        const QRectF needs = QFontMetricsF(p.font()).boundingRect(words, Qt::AlignLeft, said);
        if (needs.width() <= words.width() && needs.height() <= words.height()) break;
    }
    p.drawText(words, Qt::AlignLeft | Qt::AlignVCenter, said);
    p.restore();
}

double paint_page(QPainter& p, const HandedPage& page, double wide, double size) {
    return PagePainter(p, page, wide, size).paint();
}

void write_page_pdf(const HandedPage& page, const QString& file) {
    constexpr int kDpi = 300;
    write_a4(file, page.rider, kDpi, QMarginsF(0, 0, 0, 0), [&](QPdfWriter& writer) {
        const double wide = kA4Wide - 2 * kMargin, high = kA4High - 1.6 * kMargin;
        const double size = size_that_fits(page, wide, high);
        QPainter p(&writer);
        p.scale(kDpi / 96.0, kDpi / 96.0);
        p.translate(kMargin, kMargin * 0.8);
        PagePainter(p, page, wide, size).paint();
    });
}

QImage page_picture(const HandedPage& page, int width) {
    const double scale = width / kA4Wide;
    QImage out(width, static_cast<int>(kA4High * scale), QImage::Format_RGB32);
    out.fill(kPaper);
    QPainter p(&out);
    p.scale(scale, scale);
    p.translate(kMargin, kMargin * 0.8);
    const double wide = kA4Wide - 2 * kMargin;
    PagePainter(p, page, wide, size_that_fits(page, wide, kA4High - 1.6 * kMargin)).paint();
    return out;
}

}  // namespace aspen::exchange
