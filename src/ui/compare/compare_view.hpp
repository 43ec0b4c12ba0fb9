#pragma once

#include <QAction>
#include <QLabel>
#include <QWidget>

#include "app/following/in_step.hpp"
#include "ui/shared/deeds_line.hpp"
#include "ui/shared/hint_line.hpp"
#include "ui/shared/view.hpp"
#include "ui/shared/view_actions.hpp"

namespace aspen::ui {

class CompareStage;
class CurveStrip;
class DifferenceList;

/// Two to four moments held against each other: then and now, left and right rein, two horses, the rider and
/// the school's range, two riders. Beside each other or laid over, standing or played in step.
class CompareView : public View {
    Q_OBJECT
  public:
    explicit CompareView(app::Yard& yard, QWidget* parent = nullptr);
    QString title() const override { return tr("Compare"); }
    app::Comparison& comparison() { return comparison_; }
    app::InStep& in_step() { return in_step_; }
    CompareStage& stage() { return *stage_; }
    DifferenceList& differences() { return *list_; }
    CurveStrip& curves() { return *curves_; }
    QList<QAction*> deeds() const override { return deeds_.all(); }
    /// Of a rider, where nothing is compared yet.
    void begin(store::RiderId rider);
    /// Writes what is shown as a picture; gives the line that is said. Only with the consent of all who are
    /// in it, and without faces where the gate wants them covered.
    QString write_picture(const QString& file);
    void leave() override;

  signals:
    void open_moment(aspen::store::ClipId clip, int frame);

  protected:
    void keyPressEvent(QKeyEvent*) override;
    bool focusNextPrevChild(bool next) override;

  private:
    void build_deeds();
    void tell();
    void told(const QString& line) {
        if (!line.isEmpty()) emit say(line);
    }
    app::Yard& yard_;
    app::Comparison comparison_;
    app::InStep in_step_;
    ViewActions deeds_{*this, tr("Compare")};
    HintLine* ways_;
    DeedsLine* keys_;
    CompareStage* stage_;
    DifferenceList* list_;
    CurveStrip* curves_;
};

}  // namespace aspen::ui
