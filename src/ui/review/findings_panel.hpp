#pragma once

#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>
#include <QWidget>
#include <memory>
#include <optional>
#include <vector>

#include "ui/review/bench_panel.hpp"
#include "ui/shared/hint_line.hpp"
#include "ui/shared/standing_lines.hpp"

namespace aspen::ui {

/// What the marked moments say: certain faults to accept, change or reject by one key, borderline ones named
/// but not called, and beside them the focus with its reason and the way on.
class FindingsPanel : public BenchPanel {
    Q_OBJECT
  public:
    FindingsPanel(const app::BenchState& now, const KeyMap& keys, QWidget* parent = nullptr);
    void show_state(app::BenchParts what) override;
    /// The current row: moved by key or pointed at; after a decision the next undecided one.
    void move_current(int by);
    /// The same again takes it back.
    void decide_current(store::Decision decision);
    /// Offers what it may be instead.
    void change_current();
    void attach_current();
    /// The fault of the row the keys act on.
    QString current() const { return current_.section('|', 0, 0); }
    /// The part of the body that the current finding belongs to.
    std::optional<core::BodyPart> current_part() const;

  signals:
    /// Chosen by hand: the name of the finding that is looked at.
    void current_changed(const QString& name);
    void wants_exercise();
    void wants_why();  ///< of the row that is current

  private:
    void tell_current();
    void refresh();
    void choose_current(const std::vector<const app::FindingRow*>& rows);
    std::size_t strong_of(const std::vector<const app::FindingRow*>& rows) const;
    void add_fold(std::size_t folded);
    QString expected_of(const core::Focus& focus) const;
    void add_notes(bool nothing_found);
    QWidget* first_steps();
    QString words_of(const app::FindingRow& row, bool current) const;
    QWidget* row_for(const app::FindingRow& row, bool current, const QString& html);
    void show_rail(QWidget& line, const app::FindingRow& row, const core::RideData& ride) const;
    QWidget* row_for(const store::Remark& remark);
    void refresh_focus();
    std::vector<const app::FindingRow*> callable() const;
    const KeyMap& keys_;
    std::unique_ptr<StandingLines> lines_;
    QWidget* side_ = nullptr;  ///< the one thing; gone while there is none
    QLabel* focus_ = nullptr;
    QLabel* why_ = nullptr;
    QPushButton* next_ = nullptr;
    QString current_;
    bool all_ = false;             ///< also what is folded away
    bool chosen_by_hand_ = false;  ///< else the first undecided row is the current one
};

}  // namespace aspen::ui
