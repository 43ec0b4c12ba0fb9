#pragma once

#include <QLabel>
#include <QPushButton>
#include <QString>

/// Small makers, so that the same thing looks the same everywhere.
namespace aspen::ui {

QLabel* text_label(const QString& text, QWidget* parent, int px = 14, bool strong = false);
QLabel* quiet_label(const QString& text, QWidget* parent);
QLabel* heading_label(const QString& text, QWidget* parent, int px = 18);
/// A verb; `key` is shown after it and works anywhere in the window of `parent`.
QPushButton* verb_button(const QString& verb, const QString& key, QWidget* parent, bool next = false);
/// "24 Nov" or, in another year than today's, "24 Nov 2025".
QString spoken_date(const QString& iso);
QString sentence(const QString& s);

}  // namespace aspen::ui
