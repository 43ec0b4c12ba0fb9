#pragma once

#include <QObject>

#include "app/review/stride_work.hpp"

class QWidget;

namespace aspen::ui {

/// Open formats of the clip on the bench, and the yard's records, in and out by the desktop's own dialogs;
/// each says in one line what came of it.
class FilesInOut : public QObject {
    Q_OBJECT
  public:
    FilesInOut(app::Yard& yard, app::Bench& bench, const app::StrideWork& strides, QWidget* over);
    void take_marks();
    void take_events();
    void take_marks_from(const QString& file);
    void take_events_from(const QString& file);
    void save_marks();
    void save_events();
    void save_tracks();
    void save_corrections();
    void take_corrections();
    void take_corrections_from(const QString& file);
    void back_up();
    void restore();

  signals:
    void say(const QString& line);

  private:
    void say_outcome(const QString& trouble, const QString& done);
    app::Yard& yard_;
    app::Bench& bench_;
    const app::StrideWork& strides_;
    QWidget* over_;
};

}  // namespace aspen::ui
