#pragma once

#include <QPushButton>
#include <QWidget>

namespace aspen::ui {

/// One link of the chain: the fault's name, its words, and for the focus the mark of what is worked on.
class ChainLink : public QWidget {
  public:
    ChainLink(const QString& name, const QString& words, int depth, bool focus, QWidget* parent);

  protected:
    void paintEvent(QPaintEvent*) override;

  private:
    int depth_;
    bool focus_;
};

/// One exercise to choose: its number, its name, what speaks for it and the strongest reason against.
class CandidateCard : public QPushButton {
    Q_OBJECT
  public:
    CandidateCard(int number, const QString& name, const QString& reason, const QString& against, bool chosen,
                  QWidget* parent);
    QSize sizeHint() const override;
    bool hasHeightForWidth() const override { return true; }
    int heightForWidth(int width) const override;

  protected:
    void paintEvent(QPaintEvent*) override;

  private:
    int number_;
    QString name_, reason_, against_;
    bool chosen_;
};

}  // namespace aspen::ui
