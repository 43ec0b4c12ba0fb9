#pragma once

#include <gtest/gtest.h>

#include <QBuffer>
#include <QFile>
#include <QRegularExpression>
#include <QSvgGenerator>
#include <functional>

/// What is painted, and what is written, compared whole with what was once looked at and found good.
namespace aspen::test {

/// All drawing commands and words of something painted; of pictures in it only that they are there.
inline QString as_drawing(QSize size, const std::function<void(QPaintDevice&)>& paint) {
    QBuffer out;
    QSvgGenerator svg;
    svg.setOutputDevice(&out);
    svg.setSize(size);
    svg.setViewBox(QRect(QPoint(), size));
    paint(svg);
    QString text = QString::fromUtf8(out.data());
    text.replace(QRegularExpression("<image [^>]*/>"), "<image/>");
    text.replace(QRegularExpression("<desc>[^<]*</desc>"), "");
    return text;
}

/// Compares with tests/golden/NAME; writes what came out beside what was wanted where they differ. With
/// ASPEN_KEEP_DRAWINGS set it is kept anew, to be looked at.
inline void expect_kept(const QString& name, const QString& now) {
    const QString file = QString(ASPEN_SOURCE_DIR "/tests/golden/") + name;
    if (qEnvironmentVariableIsSet("ASPEN_KEEP_DRAWINGS")) {
        QFile out(file);
        ASSERT_TRUE(out.open(QIODevice::WriteOnly));
        out.write(now.toUtf8());
        return;
    }
    QFile kept(file);
    ASSERT_TRUE(kept.open(QIODevice::ReadOnly)) << file.toStdString();
    if (QString::fromUtf8(kept.readAll()) == now) return;
    QFile actual(file + ".actual");
    if (actual.open(QIODevice::WriteOnly)) actual.write(now.toUtf8());
    ADD_FAILURE() << name.toStdString() << " came out otherwise: look at " << file.toStdString()
                  << ".actual beside it";
}

}  // namespace aspen::test
