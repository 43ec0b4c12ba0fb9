#pragma once

#include <QTimer>
#include <QWidget>
#include <memory>

#include "app/rides/yard_wide.hpp"
#include "app/yard/yard.hpp"
#include "ui/shared/painted_rows.hpp"

namespace aspen::ui {

/// What the yard's riders have in common, and which exercises moved which faults. Read a rider at a time
/// while the window stays free.
class YardWidePage : public QWidget, public PaintedRows {
    Q_OBJECT
  public:
    explicit YardWidePage(app::Yard& yard, QWidget* parent = nullptr);
    void open();
    bool reading() const { return reader_.isActive(); }
    int row_count() const override {
        return static_cast<int>(common_.size() + still_.size() + exercises_.size());
    }
    QString row_words(int row) const override;
    QRect row_area(int row) const override;
    void row_pressed(int row) override;

  signals:
    void rider_pressed(const QString& name);

  protected:
    void paintEvent(QPaintEvent*) override;
    void keyPressEvent(QKeyEvent*) override;
    void mousePressEvent(QMouseEvent*) override;

  private:
    void read_one();
    QString words_of(const app::ExerciseAgainst& e) const;
    void paint_common(QPainter& p) const;
    void paint_still(QPainter& p) const;
    void paint_exercises(QPainter& p) const;
    app::Yard& yard_;
    std::unique_ptr<app::YardWide> wide_;
    std::vector<store::Rider> riders_;
    std::size_t next_ = 0;
    QTimer reader_;
    std::vector<app::FaultInCommon> common_;
    std::vector<app::YardWide::Still> still_;
    std::vector<app::ExerciseAgainst> exercises_;
};

}  // namespace aspen::ui
