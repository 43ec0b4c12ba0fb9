#pragma once

#include <QGridLayout>
#include <QVBoxLayout>
#include <QWidget>
#include <functional>
#include <memory>

#include "ui/review/bench_panel.hpp"
#include "ui/shared/standing_lines.hpp"

namespace aspen::ui {

/// Who gets the words that were written.
using TakesWords = std::function<void(const QString&)>;

/// Why a fault was said, in the place of the findings: its rule with what was measured and where the band
/// comes from, what it is for coach, rider and horse, what looks like it; and beside that how to change the
/// rule for good.
class WhyPanel : public BenchPanel {
    Q_OBJECT
  public:
    explicit WhyPanel(const app::BenchState& now, QWidget* parent = nullptr);
    void show_state(app::BenchParts what) override;
    /// Shows this fault; an empty id shows how to come here.
    void open(const QString& fault);
    QString fault() const { return QString::fromStdString(id_); }
    /// Everything that is shown, line by line.
    QStringList lines() const { return lines_; }
    enum class Deed { only_by_eye, not_in_gait, not_in_seat, as_shipped };
    /// One step; a rule that ships is kept beside the change.
    void change(Deed deed);
    void set_group(core::AttentionGroup group);
    /// Its name or one of its sentences: name, says, rider, horse or look_alike.
    void say_otherwise(const std::string& field, const QString& words);

  signals:
    void wants_band(const QString& measure);
    /// One line to write: the hint, what stands there now, and who takes it.
    void wants_words(const QString& hint, const QString& now, const aspen::ui::TakesWords& taken);
    void say(const QString& line);

  private:
    void rebuild();
    void add_rule(const core::Fault& fault);
    void add_words(const core::Fault& fault);
    void add_deeds(const core::Fault& fault);
    void rebuild_deeds(const core::Fault* fault);
    std::unique_ptr<StandingLines> column(int stretch);
    void line(StandingLines& to, const QString& words, bool strong = false);
    void want(const app::ChangeRule& rule);
    std::unique_ptr<StandingLines> rule_, words_;
    QGridLayout* deeds_ = nullptr;
    std::string id_;
    struct DeedsFor {
        std::string fault;
        const core::Knowledge* knowledge = nullptr;
        std::optional<core::Gait> gait;
        std::optional<core::Seat> seat;
        std::string school;
        bool operator==(const DeedsFor&) const = default;
    } deeds_for_;  ///< what the buttons were made for
    QStringList lines_;
};

}  // namespace aspen::ui
