#pragma once

#include <QLabel>
#include <QLayout>
#include <QPushButton>
#include <QScrollArea>
#include <QString>
#include <functional>

#include "app/files/text.hpp"

class QMenu;

/// Small makers, so that the same thing looks the same everywhere.
namespace aspen::ui {

QLabel* text_label(const QString& text, QWidget* parent, int px = 14, bool strong = false);
QLabel* quiet_label(const QString& text, QWidget* parent);
QLabel* heading_label(const QString& text, QWidget* parent, int px = 18);
/// A verb; `key` is shown after it and works anywhere in the window of `parent`.
QPushButton* verb_button(const QString& verb, const QString& key, QWidget* parent, bool next = false);
/// "24 Nov" or, in another year than today's, "24 Nov 2025".
QString spoken_date(const QString& iso);
/// Gives a button one of the looks of the style sheet ("next", "ask", "word", "" for a plain one).
void give_look(QWidget& widget, const QString& look);
QString sentence(const QString& s);
/// Takes everything out of a layout. The widgets vanish at once and are deleted when the event loop is
/// reached, so that a button may clear the layout it stands in.
void clear(QLayout& layout);
/// What stands on the shelf: schools and exercises, the one that is shown strong, the other a press away.
QWidget* shelf_words(QWidget& view, int shown, const std::function<void()>& other);
/// A frameless area that scrolls up and down only.
QScrollArea* scrolled(QWidget* inside, QWidget* parent);
/// Gives every entry of a menu a letter or digit of its own words as its key, and marks the first entry.
void give_keys(QMenu& menu);
using app::text;

}  // namespace aspen::ui
