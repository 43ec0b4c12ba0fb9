#include <QBuffer>
#include <QSaveFile>

#include "core/reading/refused.hpp"
#include "exchange/handed_page.hpp"

/// The rider's page as one HTML file, and as a message.
namespace aspen::exchange {
namespace {

constexpr int kPictureWide = 1200, kPictureQuality = 86;

constexpr const char* kStyle = R"css(
:root{color-scheme:light dark;--paper:#FFFDF8;--wash:#F5F1E8;--ink:#22302B;--quiet:#55625B;--sky:#2F5D8A;--teal:#176B58;--gold:#8A6410;--line:#D9D3C4}
@media (prefers-color-scheme:dark){:root{--paper:#191F1D;--wash:#222A27;--ink:#EDE9DE;--quiet:#A8B2AB;--sky:#8DB6DE;--teal:#5CC4A8;--gold:#E2B548;--line:#3A4541}}
*{box-sizing:border-box}
body{margin:0;background:var(--paper);color:var(--ink);font:17px/1.5 Lato,"Segoe UI",system-ui,sans-serif}
main{max-width:46rem;margin:0 auto;padding:1.25rem}
h1,h2{font-family:Vollkorn,Georgia,serif;line-height:1.15;margin:0 0 .3rem}
h1{font-size:2.4rem}h2{font-size:1.35rem;color:var(--sky)}
header{border-bottom:2px solid var(--gold);margin-bottom:1rem;padding-bottom:.4rem}
header p{margin:0;color:var(--quiet)}
section{margin:0 0 1.4rem}
.good{border-left:5px solid var(--teal);padding-left:.9rem}.good h2{color:var(--teal)}.good ul{list-style:none;margin:0;padding:0;font-weight:700}
.one>p.label{margin:0;color:var(--quiet);font-weight:700;font-size:.9rem}.one h2{font-size:1.9rem}
figure{margin:.6rem 0}img{display:block;width:100%;height:auto;border-radius:8px}figcaption{color:var(--quiet);font-weight:700;font-size:.9rem}
.two{display:grid;grid-template-columns:1fr 1fr;gap:.7rem}
.change{font-weight:700;color:var(--teal)}.why,.cue{font-style:italic}
ol{padding-left:1.6rem}li.here{font-weight:700}
.stop{border:1.5px solid var(--ink);border-radius:8px;background:var(--wash);padding:.7rem .9rem}.stop h2{color:var(--ink);font-size:1.1rem}
table{width:100%;border-collapse:separate;border-spacing:.3rem;table-layout:fixed}caption{text-align:left;font-family:Vollkorn,Georgia,serif;font-size:1.35rem;font-weight:700;color:var(--sky)}
th{font-weight:400;color:var(--quiet);text-align:left}td{background:var(--wash);border-radius:6px;padding:.4rem;font-weight:700;height:2.6rem}td.free{background:none}
.film{display:grid;grid-template-columns:1fr 11rem;gap:1rem;align-items:start}svg{width:100%;height:auto;border:1.5px solid var(--line);border-radius:6px}
.child{font-size:20px}
@media (max-width:34rem){.film,.two{grid-template-columns:1fr}}
@media print{body{font-size:12px}main{padding:0}}
)css";

QString safe(const QString& s) { return s.toHtmlEscaped(); }

QString data_uri(const QImage& picture) {
    QByteArray bytes;
    QBuffer buffer(&bytes);
    buffer.open(QIODevice::WriteOnly);
    const QImage sized = picture.width() > kPictureWide
                             ? picture.scaledToWidth(kPictureWide, Qt::SmoothTransformation)
                             : picture;
    sized.save(&buffer, "JPG", kPictureQuality);
    return "data:image/jpeg;base64," + QString::fromLatin1(bytes.toBase64());
}

QString figure(const QImage& picture, const QString& words, const QString& caption) {
    if (picture.isNull()) return {};
    QString out = QString("<figure><img src=\"%1\" alt=\"%2\">").arg(data_uri(picture), safe(words));
    if (!caption.isEmpty()) out += QString("<figcaption>%1</figcaption>").arg(safe(caption));
    return out + "</figure>\n";
}
QString paragraph(const QString& words, const char* style = nullptr) {
    if (words.isEmpty()) return {};
    return style ? QString("<p class=\"%1\">%2</p>\n").arg(QString::fromLatin1(style), safe(words))
                 : QString("<p>%1</p>\n").arg(safe(words));
}
QString named(const QString& name, const QString& words) {
    return words.isEmpty() ? QString() : QString("<p><b>%1:</b> %2</p>\n").arg(safe(name), safe(words));
}

/// Where to stand, from above; the words of it are its title.
QString where_to_stand(core::View from) {
    const bool side = from == core::View::side;
    const QString title = side ? QObject::tr(
                                     "Stand square on to the track, the camera still and as high as the "
                                     "rider's hip")
                               : QObject::tr("Stand on the line the horse goes along, behind it");
    const QString drawn =
        side
            ? "<polygon points=\"100,100 40,32 160,32\" fill=\"#8DB6DE\" fill-opacity=\".25\"/><line "
              "x1=\"8\" "
              "y1=\"32\" x2=\"192\" y2=\"32\" stroke=\"currentColor\" stroke-dasharray=\"6 4\"/><ellipse "
              "cx=\"100\" cy=\"32\" rx=\"20\" ry=\"8\" fill=\"currentColor\"/><ellipse cx=\"125\" cy=\"32\" "
              "rx=\"8\" ry=\"5\" fill=\"currentColor\"/><circle cx=\"98\" cy=\"32\" r=\"6\" "
              "fill=\"#E2B548\"/><rect x=\"91\" y=\"93\" width=\"18\" height=\"14\" rx=\"3\" "
              "fill=\"#2F5D8A\"/>"
            : "<polygon points=\"24,58 136,22 136,94\" fill=\"#8DB6DE\" fill-opacity=\".25\"/><line x1=\"8\" "
              "y1=\"58\" x2=\"192\" y2=\"58\" stroke=\"currentColor\" stroke-dasharray=\"6 4\"/><ellipse "
              "cx=\"136\" cy=\"58\" rx=\"20\" ry=\"8\" fill=\"currentColor\"/><ellipse cx=\"161\" cy=\"58\" "
              "rx=\"8\" ry=\"5\" fill=\"currentColor\"/><circle cx=\"134\" cy=\"58\" r=\"6\" "
              "fill=\"#E2B548\"/><rect x=\"15\" y=\"51\" width=\"18\" height=\"14\" rx=\"3\" "
              "fill=\"#2F5D8A\"/>";
    return QString("<svg viewBox=\"0 0 200 116\" role=\"img\"><title>%1</title>%2</svg>\n")
        .arg(safe(title), drawn);
}

QString week_table(const HandedPage& page) {
    if (page.week.isEmpty()) return {};
    QString head, cells;
    for (const HandedPage::Day& d : page.week) {
        head += QString("<th scope=\"col\">%1</th>").arg(safe(d.name));
        cells += d.minutes.isEmpty() ? QString("<td class=\"free\"></td>")
                                     : QString("<td>%1</td>").arg(safe(d.minutes));
    }
    return QString(
               "<section><table><caption>%1</caption><thead><tr>%2</tr></thead><tbody><tr>%3</tr></tbody>"
               "</table></section>\n")
        .arg(QObject::tr("Your week"), head, cells);
}

QString one_thing(const HandedPage& page) {
    QString out = QString("<section class=\"one\"><p class=\"label\">%1</p><h2>%2</h2>\n")
                      .arg(QObject::tr("Your one thing"), safe(page.focus));
    out += page.child && !page.cue.isEmpty() ? paragraph("“" + page.cue + "”", "cue") : paragraph(page.says);
    if (page.then.isNull())
        out += figure(page.picture, page.picture_words, {});
    else
        out += "<div class=\"two\">" +
               figure(page.then, QObject::tr("Then: ") + page.picture_words, page.then_day) +
               figure(page.picture, page.picture_words, page.now_day) + "</div>\n";
    return out + paragraph(page.change, "change") + paragraph(page.why, "why") + "</section>\n";
}

QString exercise(const HandedPage& page) {
    QString out = QString("<section><h2>%1</h2>\n").arg(safe(page.exercise));
    if (!page.child) out += paragraph(page.purpose);
    out += QString("<p><b>%1</b></p>\n").arg(safe(page.dose));
    if (!page.child && !page.cue.isEmpty()) out += paragraph("“" + page.cue + "”", "cue");
    out += "<ol>";
    for (qsizetype i = 0; i < page.ladder.size(); ++i)
        out += i == page.rung ? QString("<li class=\"here\">%1 — %2</li>")
                                    .arg(safe(page.ladder[i]), QObject::tr("start here"))
                              : QString("<li>%1</li>").arg(safe(page.ladder[i]));
    out += "</ol>\n" + named(QObject::tr("A good ride"), page.good_ride);
    if (!page.child) out += named(QObject::tr("Up"), page.up) + named(QObject::tr("Down"), page.down);
    out += named(QObject::tr("First stands"), page.first.join(", ")) +
           named(QObject::tr("Must be there"), (page.people + page.things).join(", "));
    for (const QString& way : page.ways) out += paragraph(way);
    out += "</section>\n";
    if (!page.lines.isEmpty()) {
        out += QString("<section><h2>%1</h2>").arg(QObject::tr("And beside it"));
        for (const QString& line : page.lines) out += paragraph(line);
        out += "</section>\n";
    }
    return out + QString("<section class=\"stop\"><h2>%1</h2>%2%3</section>\n")
                     .arg(QObject::tr("When to stop"), paragraph(page.stop), paragraph(page.caution));
}

void write(const QString& file, const QByteArray& bytes) {
    QSaveFile target(file);
    if (!target.open(QIODevice::WriteOnly) || target.write(bytes) != bytes.size() || !target.commit())
        throw core::Refused((file + ": cannot be written; choose another folder").toStdString());
}

}  // namespace

QString page_html(const HandedPage& page) {
    QStringList about;
    if (!page.horse.isEmpty()) about << (QObject::tr("on ") + page.horse);
    about << page.date << (QObject::tr("from ") + page.coach);
    QString good;
    for (const QString& g : page.good) good += QString("<li>%1</li>").arg(safe(g));
    QString shots;
    for (const QString& s : page.shots) shots += QString("<li>%1</li>").arg(safe(s));
    QString out =
        QString(
            "<!DOCTYPE html>\n<html lang=\"en\">\n<head>\n<meta charset=\"utf-8\">\n<meta "
            "name=\"viewport\" content=\"width=device-width, initial-scale=1\">\n<meta "
            "http-equiv=\"Content-Security-Policy\" content=\"default-src 'none'; style-src 'unsafe-inline'; "
            "img-src data:; base-uri 'none'; form-action 'none'\">\n<title>%1</title>\n"
            "<style>%2</style>\n</head>\n<body%3>\n<main>\n")
            .arg(safe(page.rider + ": " + page.focus), QString::fromLatin1(kStyle),
                 page.child ? QStringLiteral(" class=\"child\"") : QString());
    out +=
        QString("<header><h1>%1</h1><p>%2</p></header>\n").arg(safe(page.rider), safe(about.join("  ·  ")));
    out += QString("<section class=\"good\"><h2>%1</h2><ul>%2</ul></section>\n")
               .arg(QObject::tr("What is good"), good);
    out += one_thing(page) + exercise(page) + week_table(page);
    if (!page.shots.isEmpty()) {
        const QString head = page.clip_on.isEmpty() ? QObject::tr("Your next clip")
                                                    : QObject::tr("Your next clip, by %1").arg(page.clip_on);
        out += QString("<section><h2>%1</h2><div class=\"film\"><ul>%2</ul>%3</div></section>\n")
                   .arg(safe(head), shots, where_to_stand(page.stand));
    }
    return out + "</main>\n</body>\n</html>\n";
}

void write_page_html(const HandedPage& page, const QString& file) { write(file, page_html(page).toUtf8()); }

QString message_text(const HandedPage& page) {
    const auto ended = [](QString s) {
        if (!s.isEmpty() && !QStringLiteral(".!?").contains(s.back())) s += '.';
        return s;
    };
    QStringList out{QObject::tr("Hello %1,").arg(page.rider.section(' ', 0, 0))};
    out << QObject::tr("Good: %1").arg(ended(page.good.mid(0, 2).join("; ")));
    if (!page.change.isEmpty()) out << ended(page.change);
    out << QObject::tr("Your one thing: %1. %2").arg(page.focus, ended(page.says));
    if (!page.why.isEmpty() && !page.child) out << ended(page.why);
    if (!page.exercise.isEmpty()) {
        out << QObject::tr("Ride: %1. %2").arg(page.exercise, ended(page.dose));
        if (page.rung < page.ladder.size())
            out << QObject::tr("Start with: %1").arg(ended(page.ladder[page.rung]));
        if (!page.first.isEmpty()) out << QObject::tr("First stands: %1").arg(ended(page.first.join(", ")));
        const QStringList there = page.people + page.things;
        if (!there.isEmpty()) out << QObject::tr("Must be there: %1").arg(ended(there.join(", ")));
        for (const QString& way : page.ways) out << ended(way);
        out << ended(page.caution);
        for (const QString& line : page.lines) out << line;
    }
    out << ended(page.stop);
    if (!page.clip_on.isEmpty()) out << QObject::tr("Next clip by %1. — %2").arg(page.clip_on, page.coach);
    return out.join("\n");
}

}  // namespace aspen::exchange
