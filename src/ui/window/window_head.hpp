#pragma once

#include <QLabel>
#include <QPushButton>
#include <QWidget>
#include <vector>

#include "ui/shared/jobs_line.hpp"
#include "ui/shared/said_line.hpp"
#include "ui/window/view_name.hpp"

class QHBoxLayout;

namespace aspen::ui {

/// Who is in hand, as the head says it.
struct HeadRider {
    QString name;   ///< "" for nobody
    QString about;  ///< the horse and the day
    friend bool operator==(const HeadRider&, const HeadRider&) = default;
};

/// The head of the window, in two levels of which one is shown: the yard with what belongs to all, and one
/// rider with the five pages in the order of work. Of as much height in both, so that nothing below moves.
class WindowHead : public QWidget {
    Q_OBJECT
  public:
    WindowHead(const KeyMap& keys, app::Jobs& jobs, QWidget* window);
    void show_view(ViewName now);
    void show_rider(const HeadRider& rider);
    SaidLine& said() { return *said_; }
    JobsLine& jobs() { return *jobs_; }
    QPushButton& rider() { return *name_; }
    /// The button that leads to a view; null where a view has none of its own.
    QPushButton* button(ViewName view) const;

  signals:
    void wants_view(aspen::ui::ViewName view);
    void wants_riders();

  protected:
    void resizeEvent(QResizeEvent*) override;

  private:
    void build_yard(QHBoxLayout& row);
    void build_rider(QHBoxLayout& row);
    QPushButton* view_button(ViewName view, const QString& words, QWidget* parent);
    void fit();
    QWidget *yard_, *one_;
    QLabel *program_, *about_;
    QPushButton *name_, *back_to_rider_;
    SaidLine* said_;
    JobsLine* jobs_;
    std::vector<std::pair<ViewName, QPushButton*>> buttons_;
    HeadRider rider_;
    ViewName now_ = ViewName::yard;
    ViewName page_ = ViewName::progress;  ///< the rider's page that was shown last
    ViewName shelf_ = ViewName::schools;
};

}  // namespace aspen::ui
