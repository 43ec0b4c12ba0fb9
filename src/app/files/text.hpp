#pragma once

#include <QString>
#include <string_view>

namespace aspen::app {

/// The records' UTF-8 as Qt's text.
inline QString text(std::string_view utf8) {
    return QString::fromUtf8(utf8.data(), static_cast<qsizetype>(utf8.size()));
}

}  // namespace aspen::app
