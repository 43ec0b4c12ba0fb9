#pragma once

#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>
#include <QWidget>

#include "app/leaving/rider_page.hpp"
#include "app/review/bench.hpp"

namespace aspen::ui {

/// The chain of causes, the one focus, the exercise with its dose, and the page for the rider.
class PrescribeView : public QWidget {
    Q_OBJECT
  public:
    explicit PrescribeView(app::Bench& bench, QWidget* parent = nullptr);
    void give();
    void save_page();
    /// Writes the rider's page. Returns the refusal or trouble in one line, empty when it was written.
    QString write_page(const QString& file);
    /// What can be done here, each with its key.
    QList<QAction*> deeds() const { return {give_deed_, page_deed_}; }
    bool writing() const { return writer_.busy(); }

  signals:
    void say(const QString& line);
    void given(aspen::store::RiderId rider);

  protected:
    void keyPressEvent(QKeyEvent*) override;
    void showEvent(QShowEvent*) override;

  private:
    void rebuild();
    void rebuild_chain(const core::Focus& focus);
    void rebuild_offers(const core::Focus& focus);
    void rebuild_gates(const std::vector<core::Offer>& offers);
    void show_exercise(const core::Exercise& e);
    core::RiderNeeds needs() const;
    app::Bench& bench_;
    app::PageWriter writer_;
    QVBoxLayout* chain_;
    QVBoxLayout* offers_;
    QVBoxLayout* detail_;
    QAction *give_deed_, *page_deed_;
    QPushButton* give_;
    QPushButton* page_;
    QLabel* done_;
    const core::Exercise* chosen_ = nullptr;
    bool given_ = false;
    store::ClipId shown_;
};

}  // namespace aspen::ui
