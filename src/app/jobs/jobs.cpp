#include "app/jobs/jobs.hpp"

#include <QDeadlineTimer>
#include <algorithm>

#include "core/reading/refused.hpp"
#include "media/reading/read_watch.hpp"

namespace aspen::app {
namespace {

constexpr int kProgressEveryMs = 100;

}  // namespace

QString trouble_of(const std::exception_ptr& e, const QString& title) {
    try {
        std::rethrow_exception(e);
    } catch (const core::Refused& refused) {
        return QString::fromUtf8(refused.what());
    } catch (const media::ReadCancelled&) {
        return title + QObject::tr(": stopped; nothing was written.");
    } catch (const std::exception& other) {
        return title + QObject::tr(": failed (") + QString::fromUtf8(other.what()) +
               QObject::tr("); try it again.");
    } catch (...) {
        return title + QObject::tr(": failed in a way nobody foresaw; try it again.");
    }
}

Jobs::Jobs(QObject* parent) : QAbstractListModel(parent) {
    for (std::size_t i = 0; i < pools_.size(); ++i) {
        pools_[i] = std::make_unique<QThreadPool>();
        pools_[i]->setMaxThreadCount(1);
        const auto lane = static_cast<JobLane>(i);
        if (lane == JobLane::index || lane == JobLane::thumbs)
            pools_[i]->setThreadPriority(QThread::LowPriority);
        if (lane == JobLane::prepare) pools_[i]->setThreadPriority(QThread::LowestPriority);
    }
    poll_.setInterval(kProgressEveryMs);
    connect(&poll_, &QTimer::timeout, this, [this] {
        if (!shown_.empty()) emit dataChanged(index(0), index(running() - 1), {share_role});
    });
}

Jobs::~Jobs() {
    if (shut_down(60'000)) return;
    for (auto& pool : pools_) pool.release();  // what will not end must not be waited for by its destructor
}

JobHandle Jobs::enter(const QString& title, bool quiet) {
    auto job = std::make_shared<Job>(++last_number_, title, quiet);
    all_.push_back(job);
    if (!quiet) {
        beginInsertRows({}, running(), running());
        shown_.push_back(job);
        endInsertRows();
        poll_.start();
        emit changed();
    }
    return job;
}

void Jobs::leave(const JobHandle& job) {
    std::erase(all_, job);
    job->ended_ = true;
    const auto at = std::ranges::find(shown_, job);
    if (at == shown_.end()) return;
    const int row = static_cast<int>(at - shown_.begin());
    beginRemoveRows({}, row, row);
    shown_.erase(at);
    endRemoveRows();
    if (shown_.empty()) poll_.stop();
    emit changed();
}

void Jobs::stop(int number) {
    for (const JobHandle& job : all_) {
        if (job->number() == number) job->stop();
    }
}

void Jobs::stop_all() {
    for (const JobHandle& job : all_) job->stop();
}

bool Jobs::shut_down(int most_ms) {
    closed_ = true;
    stop_all();
    const QDeadlineTimer deadline(most_ms);
    bool ended = true;
    for (auto& pool : pools_) {
        if (!pool) continue;
        ended = pool->waitForDone(static_cast<int>(std::max<qint64>(0, deadline.remainingTime()))) && ended;
    }
    return ended;
}

QThreadPool& Jobs::pool(JobLane lane) { return *pools_[static_cast<std::size_t>(lane)]; }

int Jobs::rowCount(const QModelIndex& parent) const { return parent.isValid() ? 0 : running(); }

QVariant Jobs::data(const QModelIndex& index, int role) const {
    if (!index.isValid() || index.row() >= running()) return {};
    const Job& job = *shown_[static_cast<std::size_t>(index.row())];
    switch (role) {
        case Qt::DisplayRole:
        case Qt::AccessibleTextRole:
        case title_role:
            return job.share() > 0 ? QString("%1 · %2 %").arg(job.title()).arg(qRound(100 * job.share()))
                                   : job.title();
        case share_role:
            return job.share();
        case number_role:
            return job.number();
        default:
            return {};
    }
}

QHash<int, QByteArray> Jobs::roleNames() const {
    return {{title_role, "title"}, {share_role, "share"}, {number_role, "number"}};
}

}  // namespace aspen::app

#include "moc_jobs.cpp"
