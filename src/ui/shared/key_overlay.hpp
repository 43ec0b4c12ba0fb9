#pragma once

#include <QListWidget>
#include <QScrollArea>
#include <QStackedWidget>
#include <QVBoxLayout>
#include <QWidget>
#include <functional>

#include "ui/shared/key_map.hpp"

class QPushButton;
class QLabel;

namespace aspen::ui {

/// All keys over the whole window, by what one wants to do: the aims on the left, the keys of one of them on
/// the right, those of the page one comes from first. A key of the bench can be given anew: choose it, then
/// press the key it shall have; what stands on a page or works anywhere is done by a press.
class KeyOverlay : public QWidget {
    Q_OBJECT
  public:
    /// What can be done on the page that is shown: its name and its actions; none on the bench, whose keys
    /// are the map's.
    struct Page {
        QString name;
        QList<QAction*> deeds;
    };
    using PageNow = std::function<Page()>;
    KeyOverlay(KeyMap& keys, PageNow page, std::function<QList<QAction*>()> anywhere, QWidget* parent);
    void open();
    /// The aims as they stand now, the page's own first where it has any.
    QStringList aims() const;
    void show_aim(int aim) { aims_->setCurrentRow(aim); }

  protected:
    void paintEvent(QPaintEvent*) override;
    void keyPressEvent(QKeyEvent*) override;
    bool eventFilter(QObject*, QEvent*) override;

  private:
    void build_head(QVBoxLayout& all);
    void build_aims();
    QWidget* aim_page(const QStringList& groups);
    void fill_deeds(QScrollArea& area, const QList<QAction*>& deeds);
    void refresh();
    void listen(const QString& action);
    KeyMap& keys_;
    PageNow page_;
    std::function<QList<QAction*>()> anywhere_;
    QHash<QString, QPushButton*> buttons_;
    QLabel* line_;
    QListWidget* aims_;
    QStackedWidget* pages_;
    QScrollArea *here_, *everywhere_;
    QString listening_;
};

}  // namespace aspen::ui
