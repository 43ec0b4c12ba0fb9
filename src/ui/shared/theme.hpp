#pragma once

#include <QColor>
#include <QFont>
#include <QPalette>
#include <QString>

#include "core/judging/judgement.hpp"

class QApplication;

namespace aspen::ui {

/// The colours of one theme. Sky marks the one thing to do next; teal, leaf and clay carry verdicts, nothing
/// else.
struct Theme {
    bool dark = false;
    QColor ground, panel, ink, quiet, leaf, teal, clay, sky, line;
    QColor picture_ground{0x17, 0x1b, 0x1a};  ///< neutral and dark in both themes

    QColor verdict(core::Verdict v) const;
};

enum class ThemeChoice { by_palette, light, dark };

/// The theme in force; set once at start and when the person changes it.
const Theme& theme();
void apply_theme(QApplication& application, ThemeChoice choice);

/// Registers the fonts that ship inside the program.
void load_fonts();
/// Sizes 12, 14, 18 and 26 px, and no others.
QFont text_font(int px = 14, bool strong = false);
QFont heading_font(int px = 18);

}  // namespace aspen::ui
