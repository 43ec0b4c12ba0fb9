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

/// On the picture's ground, which is dark in both themes.
inline const QColor kBone(0xff, 0xfd, 0xf8), kSoft(0xb9, 0xc0, 0xba), kPictureSky(0x8d, 0xb6, 0xde);

enum class ThemeChoice { by_palette, light, dark };

/// The theme in force; set once at start and when the person changes it.
const Theme& theme();
void apply_theme(QApplication& application, ThemeChoice choice);

/// What is printed is light and of the usual size, whatever the window wears: while one of these lives.
class PrintedTheme {
  public:
    PrintedTheme();
    ~PrintedTheme();
    PrintedTheme(const PrintedTheme&) = delete;
    PrintedTheme& operator=(const PrintedTheme&) = delete;

  private:
    Theme before_;
    double scale_;
};

/// Registers the fonts that ship inside the program.
void load_fonts();
/// How much larger than usual the desktop's font is; 1 for what is about usual.
double font_scale(double desktop_points);
void set_font_scale(double scale);
/// A size at 96 dpi as the desktop wants writing: of a font, or of what holds one.
int scaled_px(int px);
/// Sizes 12, 14, 18 and 26 px at 96 dpi and the usual desktop font, and no others.
QFont text_font(int px = 14, bool strong = false);
QFont heading_font(int px = 18);

}  // namespace aspen::ui
