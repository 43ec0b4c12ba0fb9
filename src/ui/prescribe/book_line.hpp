#pragma once

#include <QLabel>
#include <QPlainTextEdit>
#include <QWidget>

namespace aspen::ui {

/// A line of a book's page that is read, and changed where it stands: a press or Enter makes it writing,
/// Enter keeps what was written, Escape leaves it as it was. What is refused stays in the line to be mended.
class BookLine : public QWidget {
    Q_OBJECT
  public:
    /// `name`: what the line says, in the margin where `margin` is set; always for screen readers.
    BookLine(const QString& name, bool margin, const QFont& font, QWidget* parent);
    /// `shown` is read, `written` is what one changes.
    void set_text(const QString& shown, const QString& written);
    void begin();
    bool is_writing() const { return editor_ && !editor_->isHidden(); }
    QPlainTextEdit* editor() { return editor_; }
    /// Back to reading.
    void end();

  signals:
    void written(const QString& text);
    void left();  ///< without a change

  protected:
    void mousePressEvent(QMouseEvent*) override;
    void keyPressEvent(QKeyEvent*) override;
    void paintEvent(QPaintEvent*) override;
    void enterEvent(QEnterEvent*) override;
    void leaveEvent(QEvent*) override;
    bool eventFilter(QObject* watched, QEvent* e) override;

  private:
    void fit();
    void keep();
    QString name_, text_;
    QLabel* shown_;
    QPlainTextEdit* editor_ = nullptr;
    QFont font_;
    bool keeping_ = false;
};

}  // namespace aspen::ui
