#pragma once

#include <QAction>
#include <QComboBox>
#include <QLabel>
#include <QPushButton>
#include <QTableView>
#include <QWidget>

#include "app/review/bench.hpp"
#include "ui/schools/band_table.hpp"
#include "ui/shared/view.hpp"

namespace aspen::ui {

/// Schools: their bands in a plain table, two of them laid on one pose, and what of the open ride's findings
/// changes between them. A coach copies one and edits the copy.
class SchoolsView : public View {
    Q_OBJECT
  public:
    explicit SchoolsView(app::Bench& bench, QWidget* parent = nullptr);
    QString title() const override { return tr("Schools"); }
    /// Shows the open ride's school, seat and phase.
    void open() override;
    void choose(const std::string& school, const std::string& beside);
    /// Beside the one it stood beside.
    void show_school(const std::string& id);
    /// Selects this measure's band. A school that ships is copied first when one edits it from here.
    void show_measure(const QString& measure);
    BandTable& table() { return table_; }
    /// What the open ride says under each of the two, in words.
    QString difference() const { return change_->text(); }
    /// Copies the shown school as the coach's own and shows the copy.
    void copy();
    QList<QAction*> deeds() const override { return actions(); }

  signals:
    void wants_exercises();

  private:
    class Pose;
    void refill();
    void refresh();
    core::Setting setting() const;
    void tell_difference();
    QString steps_between() const;
    app::Yard& yard_;
    const app::BenchState now_;
    BandTable table_;
    QTableView* rows_;
    QComboBox *school_, *beside_, *where_;
    QPushButton *copy_, *remove_;
    QLabel* about_;
    QLabel* change_;
    Pose* left_;
    Pose* right_;
    bool filling_ = false;
    bool for_ride_ = false;  ///< a copy is made to judge the open ride by
};

}  // namespace aspen::ui
