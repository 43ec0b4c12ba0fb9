#include "ui/shared/theme.hpp"

#include <QApplication>
#include <QFontDatabase>
#include <QRegularExpression>
#include <QStyleFactory>
#include <algorithm>
#include <cmath>

static void take_in_fonts() {
    Q_INIT_RESOURCE(aspen_fonts);
    Q_INIT_RESOURCE(aspen_icons);
}

namespace aspen::ui {
namespace {

Theme light() {
    return {false,     "#F5F1E8", "#FFFDF8", "#22302B", "#55625B",
            "#8A6410", "#176B58", "#A8391C", "#2F5D8A", "#D9D2C3"};
}
Theme dark() {
    return {true,      "#191F1D", "#222A27", "#EDE9DE", "#A8B2AB",
            "#E2B548", "#5CC4A8", "#F27F61", "#8DB6DE", "#3A4541"};
}

Theme g_theme = light();  // one application, one theme; written on the interface thread only
double g_font_scale = 1;
constexpr double kUsualPoints =
    10.5;  // what desktops mostly set; what is about that is no wish for another size
constexpr double kNoticeable = 1.15, kLargestScale = 2;

/// Sizes of writing follow the desktop's; margins and lines stay.
QString with_scaled_sizes(QString s) {
    static const QRegularExpression sizes("(font-size|min-height):\\s*(\\d+)px");
    qsizetype from = 0;
    for (auto m = sizes.match(s, from); m.hasMatch(); m = sizes.match(s, from)) {
        const QString now = QString("%1: %2px").arg(m.captured(1)).arg(scaled_px(m.captured(2).toInt()));
        s.replace(m.capturedStart(), m.capturedLength(), now);
        from = m.capturedStart() + now.size();
    }
    return s;
}

QString style_sheet(const Theme& t) {
    const QString on_sky = t.dark ? "#14202B" : "#FFFFFF";
    QString s = R"(
* { font-family: Lato; font-size: 14px; color: @ink; }
QMainWindow, QWidget#ground { background: @ground; }
QWidget#panel { background: @panel; }
QToolTip { background: @panel; color: @ink; border: 1px solid @line; padding: 4px 6px; }
QLabel#quiet { color: @quiet; } QLabel#small { color: @quiet; font-size: 12px; } QLabel#margin { color: @quiet; }
QPushButton { background: transparent; border: 1px solid @line; border-radius: 6px; padding: 4px 12px; min-height: 20px; }
QPushButton:hover { border-color: @quiet; } QPushButton:pressed { background: @line; }
QPushButton:focus { border: 2px solid @ink; padding: 3px 11px; }
QPushButton:disabled { color: @quiet; border-style: dashed; }
QPushButton#next { background: @sky; color: @onsky; border: 1px solid @sky; font-weight: bold; padding: 6px 16px; }
QPushButton#next:focus { border: 2px solid @ink; padding: 5px 15px; }
QPushButton#next:disabled { background: transparent; color: @quiet; border: 1px dashed @line; }
QPushButton:checked { border: 2px solid @ink; font-weight: bold; }
QPushButton#step { padding: 0; font-size: 18px; min-height: 0; } QPushButton#step:focus { padding: 0; }
QPushButton#word { border: none; padding: 4px 8px; } QPushButton#word:hover { text-decoration: underline; }
QPushButton#word:focus { border: 1px solid @ink; padding: 3px 7px; }
QPushButton#said { border: none; border-bottom: 1px solid @line; border-radius: 0; padding: 3px 2px; margin: 0 6px; }
QPushButton#said:hover { border-bottom-color: @ink; } QPushButton#said:focus { border: 1px solid @ink; padding: 3px 1px; }
QPushButton#ask { border: none; color: @sky; font-weight: bold; padding: 4px 8px; }
QPushButton#ask:focus { border: 1px solid @sky; padding: 3px 7px; }
QPushButton#view { border: none; border-bottom: 3px solid transparent; border-radius: 0; padding: 8px 11px 6px 11px; color: @quiet; }
QPushButton#view:checked { color: @ink; font-weight: bold; border-bottom-color: @leafline; }
QPushButton#view:focus { border: none; border-bottom: 3px solid @ink; padding: 8px 11px 6px 11px; }
QPushButton#who { border: none; border-radius: 0; padding: 0; font-family: Vollkorn; font-size: 26px; font-weight: 600; text-align: left; min-height: 0; }
QPushButton#who:hover { text-decoration: underline; } QPushButton#who:focus { border: none; border-bottom: 2px solid @ink; padding: 0; }
QPushButton#deed { padding: 3px 6px; font-size: 12px; min-height: 20px; } QPushButton#deed:focus { padding: 2px 5px; }
QPushButton#key { border: none; background: transparent; text-align: left; padding: 3px 8px; min-height: 18px; border-radius: 4px; }
QPushButton#key:hover { background: @panel; } QPushButton#key:focus { border: 1px solid @ink; padding: 2px 7px; }
QPushButton#cell { background: @panel; border: 1px solid @line; border-radius: 4px; text-align: left; padding: 1px 5px; font-size: 12px; min-height: 28px; }
QPushButton#cell:hover { border-color: @quiet; } QPushButton#cell:pressed { background: @line; } QPushButton#cell:focus { border: 2px solid @ink; padding: 0px 4px; }
QPushButton::menu-indicator { width: 0; }
QMenu { background: @panel; border: 1px solid @line; padding: 4px; } QMenu::item { padding: 6px 20px; border-radius: 4px; }
QMenu::item:selected { background: @line; } QMenu::item:disabled { color: @quiet; }
QLineEdit, QSpinBox, QComboBox, QDateEdit, QPlainTextEdit { background: @ground; border: 1px solid @line; border-radius: 6px; padding: 4px 8px; min-height: 20px; }
QLineEdit:focus, QSpinBox:focus, QComboBox:focus, QPlainTextEdit:focus { border: 2px solid @ink; padding: 3px 7px; }
QComboBox::drop-down { border: none; width: 24px; } QComboBox::down-arrow { image: url(:/aspen/icons/down.svg); width: 10px; height: 10px; }
QComboBox QAbstractItemView { background: @panel; selection-background-color: @line; selection-color: @ink; }
QScrollArea, QScrollArea > QWidget > QWidget { background: transparent; border: none; }
QListView { background: transparent; border: none; outline: none; }
QListView::item { padding: 8px 10px; border-radius: 6px; } QListView::item:selected { background: @line; color: @ink; }
QScrollBar:vertical { width: 10px; background: transparent; } QScrollBar::handle:vertical { background: @line; border-radius: 4px; min-height: 28px; }
QScrollBar::add-line, QScrollBar::sub-line { height: 0; } QScrollBar::add-page, QScrollBar::sub-page { background: transparent; }
)";
    const std::pair<const char*, QColor> names[] = {
        {"@onsky", QColor(on_sky)}, {"@ground", t.ground}, {"@panel", t.panel}, {"@ink", t.ink},
        {"@quiet", t.quiet},        {"@leafline", t.leaf}, {"@sky", t.sky},     {"@line", t.line}};
    for (const auto& [name, colour] : names) s.replace(name, colour.name());
    return with_scaled_sizes(s);
}

}  // namespace

QColor Theme::verdict(core::Verdict v) const {
    switch (v) {
        case core::Verdict::inside:
            return teal;
        case core::Verdict::borderline:
            return leaf;
        case core::Verdict::outside:
            return clay;
        case core::Verdict::no_band:
        case core::Verdict::not_judged:
            break;
    }
    return quiet;
}

const Theme& theme() { return g_theme; }

PrintedTheme::PrintedTheme() : before_(g_theme), scale_(g_font_scale) {
    g_theme = light();
    g_font_scale = 1;
}
PrintedTheme::~PrintedTheme() {
    g_theme = before_;
    g_font_scale = scale_;
}

void apply_theme(QApplication& application, ThemeChoice choice) {
    static const bool once = [&] {  // before the program's own font takes the desktop's place
        set_font_scale(font_scale(application.font().pointSizeF()));
        return true;
    }();
    (void)once;
    static const bool system_is_dark = application.palette().color(QPalette::Window).lightnessF() < 0.5F;
    g_theme = choice == ThemeChoice::dark || (choice == ThemeChoice::by_palette && system_is_dark) ? dark()
                                                                                                   : light();
    application.setStyle(QStyleFactory::create("Fusion"));
    QPalette p;
    const Theme& t = g_theme;
    p.setColor(QPalette::Window, t.ground);
    p.setColor(QPalette::Base, t.panel);
    p.setColor(QPalette::AlternateBase, t.ground);
    p.setColor(QPalette::Text, t.ink);
    p.setColor(QPalette::WindowText, t.ink);
    p.setColor(QPalette::ButtonText, t.ink);
    p.setColor(QPalette::Button, t.panel);
    p.setColor(QPalette::PlaceholderText, t.quiet);
    p.setColor(QPalette::Highlight, t.sky);
    p.setColor(QPalette::HighlightedText, t.panel);
    application.setPalette(p);
    application.setFont(text_font());
    application.setStyleSheet(style_sheet(t));
}

void load_fonts() {
    take_in_fonts();
    for (const char* name :
         {"Lato-Regular.ttf", "Lato-Bold.ttf", "Vollkorn-Medium.ttf", "Vollkorn-Bold.ttf"}) {
        QFontDatabase::addApplicationFont(QString(":/aspen/fonts/") + name);
    }
}

double font_scale(double desktop_points) {
    return desktop_points > kUsualPoints * kNoticeable
               ? std::min(desktop_points / kUsualPoints, kLargestScale)
               : 1;
}

void set_font_scale(double scale) { g_font_scale = scale; }

int scaled_px(int px) { return static_cast<int>(std::lround(px * g_font_scale)); }

QFont text_font(int px, bool strong) {
    QFont f("Lato");
    f.setPixelSize(scaled_px(px));
    f.setBold(strong);
    return f;
}

QFont heading_font(int px) {
    QFont f("Vollkorn");
    f.setPixelSize(scaled_px(px));
    f.setWeight(QFont::DemiBold);
    return f;
}

}  // namespace aspen::ui
