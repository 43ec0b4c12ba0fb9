#pragma once

#include <QAction>
#include <QComboBox>
#include <QLabel>
#include <QListWidget>
#include <QPushButton>
#include <QWidget>

#include "app/review/bench.hpp"
#include "ui/schools/band_page.hpp"
#include "ui/shared/view.hpp"

namespace aspen::ui {

/// Schools as pages: each with its own rider drawn, its ranges on the limbs with their numbers beside them,
/// what it holds otherwise than others and why, and what of the open ride would be another finding in the
/// school beside it. A coach copies one and writes in the copy, where the numbers stand.
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
    BandPage& bands() { return *rows_; }
    QListWidget& list() { return *school_; }
    /// What the open ride says under each of the two, in words.
    QString difference() const { return change_->text(); }
    /// Copies the shown school as the coach's own and shows the copy.
    void copy();
    QList<QAction*> deeds() const override { return actions(); }

  signals:
    void wants_exercises();

  protected:
    void resizeEvent(QResizeEvent*) override;

  private:
    QWidget* build_shelf();
    QWidget* build_page();
    QWidget* build_beside();
    void take_away();
    void refill();
    std::string school() const;
    void tell_about();
    void refresh();
    core::Setting setting() const;
    void tell_difference();
    QString steps_between() const;
    app::Yard& yard_;
    const app::BenchState now_;
    BandTable table_;
    BandPage* rows_;
    QListWidget *school_, *where_;
    QComboBox* beside_;
    QPushButton *copy_, *remove_;
    QLabel *name_, *about_, *beside_words_, *why_, *change_;
    bool filling_ = false;
    bool for_ride_ = false;  ///< a copy is made to judge the open ride by
};

}  // namespace aspen::ui
