#pragma once

#include <QIcon>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QPushButton>
#include <QVBoxLayout>
#include <QWidget>
#include <map>

#include "app/yard/yard.hpp"

#include "ui/prescribe/book_line.hpp"
#include "ui/prescribe/ladder_view.hpp"
#include "ui/prescribe/plate_view.hpp"
#include "ui/shared/view.hpp"

namespace aspen::ui {

/// The book of exercises: each a page with its plate, what it is for, its pictures in words, its ladder, who
/// must be there and when to stop. A line is changed where it stands; what does not fit is said in one line
/// under the page, and nothing is changed.
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
    /// The line of a field, to be changed in place.
    BookLine& line(const QString& field) { return *lines_.at(field); }
    LadderView& ladder() { return *ladder_; }
    /// The line in which the rung under the hand is written.
    BookLine& rung_line() { return *rung_; }
    /// Begins to write a field that says nothing yet, or one of the lines that stand.
    void begin(const QString& field);

  signals:
    void closed();
    void wants_schools();

  protected:
    void keyPressEvent(QKeyEvent*) override;
    void resizeEvent(QResizeEvent*) override;

  private:
    QWidget* build_page();
    void build_reading(QVBoxLayout& page);
    BookLine* add_line(const QString& field, bool margin, const QFont& font);
    void build_verbs(QVBoxLayout& page);
    void refill();
    QIcon plate_icon(const core::Exercise& e);
    void fill_page();
    void fill_more();
    void begin_rung(int rung);
    void write_rung(const QString& text);
    app::Yard& yard_;
    QLineEdit* search_;
    QListWidget* list_;
    QLabel *state_, *trouble_, *none_, *more_, *stop_;
    PlateView* plate_;
    LadderView* ladder_;
    BookLine* rung_;
    QPushButton *copy_, *hide_, *ships_, *back_;
    std::map<QString, BookLine*> lines_;
    std::string shown_;
    int writing_rung_ = -1;
    std::map<std::string, QIcon> icons_;
    bool icons_dark_ = false;
};

}  // namespace aspen::ui
