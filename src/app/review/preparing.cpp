#include "app/review/preparing.hpp"

#include <QFileInfo>
#include <QTimer>

#include "app/review/figure_maker.hpp"

namespace aspen::app {
namespace {

constexpr int kSoonMs = 1500;

}  // namespace

Preparing::Preparing(Yard& yard) : QObject(&yard), yard_(yard) {
    // The whole inbox is looked through for the next one: once after many changes, not at each of them.
    auto* soon = new QTimer(this);
    soon->setSingleShot(true);
    soon->setInterval(kSoonMs);
    connect(soon, &QTimer::timeout, this, &Preparing::next);
    const auto look = [this, soon] {
        if (on_ && !busy()) soon->start();
    };
    connect(&yard_, &Yard::clips_changed, this, look);
    connect(&yard_, &Yard::clip_changed, this, look);
    // A stop from the list hands nothing over: it is the coach's word that the machine is needed.
    connect(&yard_.jobs(), &Jobs::changed, this, [this] {
        if (job_ && job_->stopped()) stop();
    });
}
Preparing::~Preparing() {
    if (job_) job_->stop();
}

void Preparing::start() {
    if (on_) return;
    if (!FigureMaker::has_model()) return;
    on_ = true;
    next();
}

void Preparing::stop() {
    on_ = false;
    if (job_) job_->stop();
    job_.reset();
}

std::vector<Preparing::Waiting> Preparing::waiting() const {
    std::vector<Waiting> out;
    for (const store::RideLine& line : yard_.records().rides.waiting()) {
        for (const store::Clip& c : yard_.records().rides.clips_of(line.ride.id)) {
            // Its frames are counted first: a still picture has one.
            if (c.frames < 2 || c.duration_s > kLongestPreparedS || failed_.contains(c.hash)) continue;
            const QString file = yard_.file_of(c);
            if (kept_prepared(c.hash) || !QFileInfo::exists(file)) continue;
            out.push_back({c.id, {file, c.hash, c.capture}, QFileInfo(file).fileName()});
        }
    }
    return out;
}

int Preparing::left() const { return static_cast<int>(waiting().size()); }

void Preparing::next() {
    if (!on_ || busy()) return;
    const auto all = waiting();
    if (all.empty()) return;
    const Waiting& first = all.front();
    job_ = yard_.jobs().run(
        JobLane::prepare, tr("Looking through ") + first.name, this,
        [clip = first.clip, known = yard_.shared_knowledge()](Job& job) {
            return prepare(clip, *known, job);
        },
        [this, id = first.id, hash = first.clip.hash](const Outcome<Prepared>& done) {
            job_.reset();
            if (!done.value) {
                failed_.insert(hash);
                emit say(done.trouble);
            }
            emit prepared(id);
            next();
        });
}

}  // namespace aspen::app

#include "moc_preparing.cpp"
