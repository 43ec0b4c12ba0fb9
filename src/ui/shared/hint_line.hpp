#pragma once

#include <QLabel>
#include <functional>

class QAction;

namespace aspen::ui {

class KeyMap;

/// Words that name keys, each of which can be clicked. In them "[confirm]" stands for the key that does the
/// action "confirm" now, and clicking it does it; "[=Esc]" stands for a key of the widget itself, which hears
/// of it by `pressed`. An action without a key is shown by its own words; brackets around anything else stay.
class HintLine : public QLabel {
    Q_OBJECT
  public:
    HintLine(const KeyMap& keys, QWidget* parent, int px = 12);
    /// `find` gives the action of an id, null when there is none.
    HintLine(std::function<QAction*(const QString&)> find, QWidget* parent, int px = 12);
    /// Plain words except for the keys; "&" and "<" need no care.
    void say(const QString& words);
    /// The same with a few strong words before them.
    void say(const QString& strong, const QString& words);
    /// Colour of the words and of the keys in them.
    void set_colours(const QColor& words, const QColor& keys);
    /// On the picture: a dark ground of its own with round ends.
    void set_pill(bool on);
    /// What stands there as a reader hears it.
    QString spoken() const { return spoken_; }

  signals:
    void pressed(const QString& key);

  protected:
    void paintEvent(QPaintEvent*) override;
    void changeEvent(QEvent*) override;

  private:
    void write();
    std::function<QAction*(const QString&)> find_;
    QString strong_, words_, spoken_;
    QColor colour_, key_colour_;
    bool pill_ = false;
    int px_;
};

}  // namespace aspen::ui
