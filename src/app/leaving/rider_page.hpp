#pragma once

#include <QObject>

#include "app/leaving/gate.hpp"
#include "app/review/bench.hpp"

namespace aspen::app {

/// The page a rider takes home: put together from the open ride, its picture read and the PDF written as a
/// job.
class PageWriter : public QObject {
    Q_OBJECT
  public:
    explicit PageWriter(Bench& bench, QObject* parent = nullptr) : QObject(parent), bench_(bench) {}
    /// One line when nothing may leave or there is nothing to write; nothing when it could be started.
    std::optional<QString> refusal(const core::Exercise* exercise);
    /// Gives one line when it cannot start.
    QString start(const core::Exercise& exercise, const QString& file);
    bool busy() const { return job_ && !job_->ended(); }

  signals:
    void finished(const QString& line, bool written);

  private:
    /// The moment of this rider with most joints.
    const store::Moment* moment() const;
    Bench& bench_;
    JobHandle job_;
};

}  // namespace aspen::app
