#pragma once

#include <QAction>
#include <QLabel>
#include <QListWidget>
#include <QPlainTextEdit>
#include <QScrollArea>
#include <QStackedWidget>
#include <QWidget>

#include "app/leaving/bundle_out.hpp"
#include "app/leaving/page_content.hpp"
#include "app/models/thumbs.hpp"
#include "app/telling/film_writer.hpp"
#include "app/telling/telling_desk.hpp"
#include "ui/shared/deeds_line.hpp"
#include "ui/shared/view.hpp"
#include "ui/shared/view_actions.hpp"

namespace aspen::ui {

class StartPanel;
class TellingPicture;
class WaveStrip;

/// What a rider gets: spoken reviews, cut by their wave; the page as it will be printed; the message. Nothing
/// leaves from here but by the gate, and it is seen before.
class HandOverView : public View {
    Q_OBJECT
  public:
    HandOverView(app::Yard& yard, app::Bundles& bundles, app::Thumbs& thumbs, QWidget* parent = nullptr);
    QString title() const override { return tr("Hand over"); }
    /// Of a rider, with the clip that is on the bench.
    void begin(store::RiderId rider, store::ClipId clip, int slot, const media::ClipFacts& facts);
    /// Shows a review that was just recorded.
    void show_review(store::SpokenId id);
    void leave() override;
    app::TellingDesk& desk() { return desk_; }
    QList<QAction*> deeds() const override { return deeds_.all(); }
    QListWidget& things() { return *things_; }
    StartPanel& start() { return *start_; }
    QPlainTextEdit& message() { return *message_; }
    /// Writes what is shown; gives the line that is said, "" where a job goes on.
    QString write(const QString& file);
    bool busy() const { return writer_.busy() || maker_.busy() || bundles_.busy(); }
    int most_mb() const { return wish_.most_mb; }

  signals:
    /// Talk on: into this review, at a place of its parts, from a picture on.
    void talk(const aspen::store::Spoken& spoken, std::size_t place, aspen::store::ClipId clip, int frame);
    void open_moment(aspen::store::ClipId clip, int frame);
    /// A new one, over the clip that is open.
    void talk_new();

  protected:
    void keyPressEvent(QKeyEvent*) override;
    void resizeEvent(QResizeEvent*) override;

  private:
    enum class Thing { review, new_review, page, message, bundle, tables };
    void build();
    void build_stack();
    void build_deeds();
    void build_cutting();
    void refill();
    void show_thing();
    void make_page();
    void show_page();
    void tell_keys();
    void from_notes();
    void show_start();
    /// Throws core::Refused.
    std::optional<core::Telling> told_by_notes() const;
    QString write_tables(const QString& folder);
    void talk_on(bool chapter_only);
    void to_outbox();
    /// Throws core::Refused where it may not leave.
    store::Outgoing outgoing() const;
    /// For what is chosen.
    app::PermitOrLine ask() const;
    void put_waiting(bool written);
    QString rider_name() const;
    QString ask_for_file();
    Thing thing() const;
    app::Yard& yard_;
    app::TellingDesk desk_;
    app::FilmWriter writer_;
    app::PageMaker maker_;
    app::Bundles& bundles_;
    app::Thumbs& thumbs_;
    app::FilmWish wish_;
    ViewActions deeds_{*this, tr("Hand over")};
    store::RiderId rider_;
    store::ClipId clip_;
    int slot_ = 0;
    media::ClipFacts facts_;  ///< of the clip on the bench
    std::optional<bool> child_;
    std::optional<app::MadePage> page_;
    bool anew_ = false;  ///< the page that is being made is no longer the one that is wanted
    QString page_trouble_;
    std::optional<store::Outgoing> waits_;  ///< goes into the outbox once its file is written
    QLabel *about_, *page_label_;
    QListWidget* things_;
    QStackedWidget* stack_;
    TellingPicture* picture_;
    WaveStrip* wave_;
    StartPanel* start_;
    QLabel* about_file_;
    QScrollArea* page_area_;
    QPlainTextEdit* message_;
    DeedsLine* keys_;
};

}  // namespace aspen::ui
