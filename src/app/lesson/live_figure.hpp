#pragma once

#include <QImage>
#include <QObject>
#include <QThreadPool>
#include <atomic>
#include <map>
#include <memory>
#include <optional>

#include "app/jobs/mail_box.hpp"
#include "core/body/figure.hpp"

namespace aspen::app {

/// The rider's figure in a live picture that is shown some seconds late: pictures are read on a thread of
/// their own as they come, one at a time, the newest first; what is not read until it is shown lies between
/// two that were. Shown to be looked at: nothing of it is kept. Interface thread only.
class LiveFigure : public QObject {
    Q_OBJECT
  public:
    /// Fewer readings a second than this, and nothing is shown: a figure that limps behind its rider is worse
    /// than none.
    static constexpr double kFewestPerSecond = 5;

    explicit LiveFigure(QObject* parent = nullptr);
    ~LiveFigure() override;

    /// A picture as it came; `at_ms` rises. It is read unless another one is being read.
    void push(const QImage& picture, qint64 at_ms);
    /// The figure at an instant, between the readings before and after it; empty where there is none on both
    /// sides, or where they lie too far apart.
    std::optional<core::Figure> at(qint64 at_ms) const;
    /// Readings a second over the last three seconds.
    double per_second() const;
    /// Whether that is enough; true until three seconds were read.
    bool keeps_up() const;
    /// Forgets everything; another camera.
    void clear();

  signals:
    void read(qint64 at_ms);
    /// The network is not there, or is none; nothing is read from then on.
    void trouble(const QString& line);

  protected:
    void customEvent(QEvent*) override { mail_.empty(); }

  private:
    struct Reader;
    void take(qint64 at_ms, std::optional<core::Figure> figure, int generation);
    MailBox mail_{*this};  ///< before the pool, whose thread uses it to its end
    std::shared_ptr<Reader> reader_;
    std::map<qint64, std::optional<core::Figure>> read_;
    std::atomic<bool> stop_{false};
    bool busy_ = false, broken_ = false;
    int generation_ = 0;
    qint64 first_ms_ = -1;
    QThreadPool pool_;
};

}  // namespace aspen::app
