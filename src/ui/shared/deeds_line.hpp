#pragma once

#include <QWidget>
#include <functional>
#include <vector>

class QAction;
class QPushButton;

namespace aspen::ui {

/// Under a view: at most four things one can do now, in words, the first of them in sky; all others are found
/// by F1 and Ctrl+K. Each is pressed by the mouse or by the key that stands after it.
class DeedsLine : public QWidget {
    Q_OBJECT
  public:
    static constexpr std::size_t kMost = 4;
    struct Deed {
        QString id, words;
    };
    /// `find` gives the action of an id, null when there is none: then it is left out.
    DeedsLine(std::function<QAction*(const QString&)> find, QWidget* parent);
    /// `next`: the first is the one thing to do next; else all are quiet, because it stands elsewhere.
    void show_deeds(const std::vector<Deed>& deeds, bool next = true);
    /// What stands there, words alone.
    QStringList words() const;
    QPushButton* button(const QString& id) const;

  protected:
    void resizeEvent(QResizeEvent*) override;

  private:
    void fit();
    std::function<QAction*(const QString&)> find_;
    std::vector<QPushButton*> buttons_;
    std::vector<Deed> shown_;
};

}  // namespace aspen::ui
