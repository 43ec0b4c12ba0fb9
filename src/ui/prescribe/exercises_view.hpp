#pragma once

#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QPlainTextEdit>
#include <QPushButton>
#include <QVBoxLayout>
#include <QWidget>
#include <map>

#include "app/yard/yard.hpp"

#include "ui/shared/view.hpp"

namespace aspen::ui {

/// All exercises: what each says, changed in place, copied, hidden, or as it ships again. What does not fit
/// is said in one line under the field, and nothing is changed.
class ExercisesView : public View {
    Q_OBJECT
  public:
    explicit ExercisesView(app::Yard& yard, QWidget* parent = nullptr);
    QString title() const override { return tr("Exercises"); }
    void open() override;
    void show_exercise(const std::string& id);
    const std::string& shown() const { return shown_; }
    /// A field as it stands on the page, and what a person writes into it.
    QString field(const QString& id) const;
    void write(const QString& id, const QString& text);
    QString trouble() const { return trouble_->text(); }
    void copy();
    void hide_or_show();
    void as_it_ships();
    QLineEdit& search() { return *search_; }
    QListWidget& list() { return *list_; }

  signals:
    void closed();
    void wants_schools();

  protected:
    bool eventFilter(QObject* watched, QEvent* e) override;
    void keyPressEvent(QKeyEvent*) override;

  private:
    QWidget* build_fields();
    void build_verbs(QVBoxLayout& page);
    void refill();
    void fill_fields();
    app::Yard& yard_;
    QLineEdit* search_;
    QListWidget* list_;
    QLabel *heading_, *state_, *trouble_;
    QPushButton *copy_, *hide_, *ships_, *back_;
    QPlainTextEdit* ladder_ = nullptr;
    std::map<QString, QLineEdit*> lines_;
    std::string shown_;
    bool filling_ = false;
};

}  // namespace aspen::ui
