#pragma once

#include <QAbstractListModel>
#include <QElapsedTimer>
#include <QFutureWatcher>
#include <QPointer>
#include <QPromise>
#include <QRunnable>
#include <QThreadPool>
#include <QTimer>
#include <array>
#include <atomic>
#include <functional>
#include <memory>
#include <optional>

#include "app/jobs/thread_fence.hpp"

namespace aspen::app {

/// Jobs of one lane run one after the other; lanes run beside each other.
enum class JobLane { import, index, thumbs, pose, write, look, demo, sound, prepare, count };

/// A job that was started: what both sides know of it. Any thread.
class Job {
  public:
    Job(int number, QString title, bool quiet) : number_(number), title_(std::move(title)), quiet_(quiet) {}
    int number() const { return number_; }
    const QString& title() const { return title_; }
    /// True for what nobody waits for (small pictures): not shown in the list.
    bool quiet() const { return quiet_; }
    void stop() { stop_ = true; }
    const std::atomic<bool>& stopped() const { return stop_; }
    /// Gone from the list: its work is over, its result about to be handed over.
    bool ended() const { return ended_; }
    /// 0 to 1.
    void progress(double share) { share_ = share; }
    double share() const { return share_; }

  private:
    friend class Jobs;
    template <typename Result, typename Work>
    friend class JobTask;
    int number_;
    QString title_;
    bool quiet_;
    std::atomic<bool> stop_{false}, ended_{false};
    std::atomic<double> share_{0};
    ThreadFence returned_;
};
using JobHandle = std::shared_ptr<Job>;

/// How a job ended: with a value, with trouble in one line, or with neither because it was stopped.
template <typename Result>
struct Outcome {
    std::optional<Result> value;
    QString trouble;
};

/// What an exception that ended a job says, in one line.
QString trouble_of(const std::exception_ptr& e, const QString& title);

/// All long work of the program, and the list that shows it: what runs, how far it is, and a stop. Work runs
/// on a thread of its lane and must look at its stop at least every 100 ms; the result is handed over on this
/// object's thread, only while its owner lives and unless the job was stopped. Interface thread only.
class Jobs : public QAbstractListModel {
    Q_OBJECT
  public:
    enum Role { title_role = Qt::UserRole + 1, share_role, number_role };

    explicit Jobs(QObject* parent = nullptr);
    /// Stops everything, and waits for it.
    ~Jobs() override;

    /// `work(job)` gives the result; `done(outcome)` takes it.
    template <typename Work, typename Done>
    JobHandle run(JobLane lane, const QString& title, QObject* owner, Work work, Done done) {
        return start(lane, title, false, owner, std::move(work), std::move(done));
    }
    /// The same without a line in the list.
    template <typename Work, typename Done>
    JobHandle run_quietly(JobLane lane, const QString& title, QObject* owner, Work work, Done done) {
        return start(lane, title, true, owner, std::move(work), std::move(done));
    }

    int running() const { return static_cast<int>(shown_.size()); }
    /// Also those that are not shown.
    int all_running() const { return static_cast<int>(all_.size()); }
    void stop(int number);
    void stop_all();
    /// Stops everything and waits for it, but no longer than this; false when something still runs then.
    bool shut_down(int most_ms);

    int rowCount(const QModelIndex& parent = {}) const override;
    QVariant data(const QModelIndex& index, int role) const override;
    QHash<int, QByteArray> roleNames() const override;

  signals:
    void changed();

  private:
    template <typename Work, typename Done>
    JobHandle start(JobLane lane, const QString& title, bool quiet, QObject* owner, Work work, Done done);
    JobHandle enter(const QString& title, bool quiet);
    void leave(const JobHandle& job);
    QThreadPool& pool(JobLane lane);

    std::array<std::unique_ptr<QThreadPool>, static_cast<std::size_t>(JobLane::count)> pools_;
    std::vector<JobHandle> all_, shown_;
    int last_number_ = 0;
    bool closed_ = false;
    QTimer poll_;  ///< progress is looked up, not sent: that throttles it
};

/// Whatever was put into a task before it went to its pool is seen by its thread: one for all, because a task
/// cannot be looked into before this was taken.
inline ThreadFence& all_given() {
    static ThreadFence given;
    return given;
}

/// The work of one job on its lane's thread.
template <typename Result, typename Work>
class JobTask : public QRunnable {
  public:
    JobTask(JobHandle job, Work work) : job_(std::move(job)), work_(std::move(work)) { promise_.start(); }
    QFuture<std::shared_ptr<Outcome<Result>>> future() { return promise_.future(); }
    void run() override {
        all_given().take();
        auto outcome = std::make_shared<Outcome<Result>>();
        if (!job_->stopped()) {
            try {
                outcome->value.emplace(work_(*job_));
            } catch (...) {
                outcome->trouble = trouble_of(std::current_exception(), job_->title());
            }
        }
        promise_.addResult(std::move(outcome));
        job_->returned_.give();
        promise_.finish();
    }

  private:
    JobHandle job_;
    Work work_;
    QPromise<std::shared_ptr<Outcome<Result>>> promise_;
};

template <typename Work, typename Done>
JobHandle Jobs::start(JobLane lane, const QString& title, bool quiet, QObject* owner, Work work, Done done) {
    using Result = std::invoke_result_t<Work, Job&>;
    const JobHandle job = enter(title, quiet);
    if (closed_) {
        job->stop();
        leave(job);
        return job;
    }
    auto* watcher = new QFutureWatcher<std::shared_ptr<Outcome<Result>>>(this);
    connect(watcher, &QFutureWatcherBase::finished, this,
            [this, watcher, job, done = std::move(done), owner = QPointer<QObject>(owner)] {
                watcher->deleteLater();
                job->returned_.take();
                leave(job);
                if (!owner || job->stopped()) return;
                done(std::move(*watcher->result()));
            });
    auto* task = new JobTask<Result, Work>(job, std::move(work));
    watcher->setFuture(task->future());
    all_given().give();
    pool(lane).start(task);
    return job;
}

}  // namespace aspen::app
