#include "app/files/file_name.hpp"

namespace aspen::app {
namespace {

constexpr qsizetype kMostBytes = 80;

}  // namespace

QString as_file_name(const QString& words) {
    QString out;
    for (const char32_t c : words.normalized(QString::NormalizationForm_C).toLower().toUcs4()) {
        if (QChar::isLetterOrNumber(c) || QChar::isMark(c))
            out += QString::fromUcs4(&c, 1);
        else if (!out.isEmpty() && !out.endsWith('-'))
            out += '-';
    }
    while (out.toUtf8().size() > kMostBytes) out.chop(out.back().isLowSurrogate() ? 2 : 1);
    while (out.endsWith('-')) out.chop(1);
    return out.isEmpty() ? QStringLiteral("unnamed") : out;
}

QString as_file_name(const QFileInfo& file) {
    const QString ending = as_file_name(file.suffix());
    const bool plain = !file.suffix().isEmpty() && ending == file.suffix().toLower() && ending.size() <= 5;
    return as_file_name(plain ? file.completeBaseName() : file.fileName()) + (plain ? "." + ending : "");
}

}  // namespace aspen::app
