#include "app/telling/recorder.hpp"

#include <QDateTime>
#include <algorithm>
#include <cmath>

#include "app/files/private_folder.hpp"
#include "core/reading/refused.hpp"

namespace aspen::app {
namespace {

constexpr double kShortest_s = 0.5;
constexpr int kKeepEvery_ms = 5000;
constexpr double kPictureEvery_s = 0.1;  // what runs is told so often; between them it runs evenly

core::Deed deed(core::Deed::What what) {
    core::Deed d;
    d.what = what;
    return d;
}

}  // namespace

Recorder::Recorder(Bench& bench, Player& player, std::unique_ptr<sound::Microphone> microphone,
                   QObject* parent)
    : QObject(parent), bench_(bench), player_(player), microphone_(std::move(microphone)) {
    keep_.setInterval(kKeepEvery_ms);
    connect(&keep_, &QTimer::timeout, this, &Recorder::keep);
    connect(&bench_.deck(), &ClipDeck::frame_changed, this, &Recorder::look);
    connect(&bench_, &Bench::clip_opened, this, &Recorder::look);
    connect(&player_, &Player::started, this, &Recorder::look);
    connect(&player_, &Player::stopped, this, &Recorder::look);
    connect(&bench_, &Bench::changed, this, [this](const BenchState&, BenchParts what) {
        if (what & BenchPart::records) draw();
    });
    connect(&bench_, &Bench::closing, this, [this] {
        if (recording() && stop())
            emit say(tr("The clip was closed: the review is kept as far as it went, with its clip."));
    });
    if (microphone_) connect(microphone_.get(), &sound::Microphone::heard, this, &Recorder::hear);
}
Recorder::~Recorder() {
    if (recording()) stop();
}

double Recorder::seconds() const {
    return recording() ? static_cast<double>(clock_.nsecsElapsed()) * 1e-9 : 0;
}
double Recorder::now_s() const { return begun_at_s_ + seconds(); }
QString Recorder::voice_name() const {
    return bench_.yard().folder().filePath(QString::fromStdString(spoken_->sound));
}

QString Recorder::start() {
    if (recording()) return {};
    if (!bench_.is_open() || !bench_.deck().ready()) return tr("Open a clip first, then talk over it.");
    store::Spoken s;
    s.clip = bench_.review().clip().id;
    s.slot = bench_.review().slot();
    s.made_at = now_iso(bench_.yard());
    s.sound =
        "spoken/" + QDateTime::currentDateTimeUtc().toString("yyyyMMdd-hhmmss-zzz").toStdString() + ".wav";
    spoken_ = s;
    telling_ = {};
    fresh_ = true;
    return begin(0);
}

QString Recorder::start_into(const store::Spoken& spoken, std::size_t index) {
    if (recording()) return {};
    if (!bench_.is_open() || !bench_.deck().ready()) return tr("Open the clip first, then talk on.");
    try {
        telling_ = core::read_telling(spoken.timeline);
    } catch (const core::Refused& e) {
        return QString::fromUtf8(e.what());
    }
    spoken_ = spoken;
    fresh_ = false;
    return begin(index);
}

QString Recorder::begin(std::size_t index) {
    index_ = index;
    begun_at_s_ = telling_.recorded_s();
    level_ = 0;
    first_heard_ = false;
    try {
        make_private_folder(bench_.yard().folder().filePath("spoken"));
        if (spoken_->sound.empty()) spoken_->sound = "spoken/" + spoken_->made_at + ".wav";
        voice_ = std::make_unique<VoiceFile>(voice_name());
        // What was recorded before without a voice is silent in it, so that both clocks are one.
        const double missing = begun_at_s_ - voice_->length_s();
        if (missing > 0)
            voice_->add(
                std::vector<std::int16_t>(static_cast<std::size_t>(missing * sound::Microphone::kRate)));
    } catch (const core::Refused& e) {
        spoken_.reset();
        voice_.reset();
        return QString::fromUtf8(e.what());
    }
    clock_.start();
    hears_ = microphone_ && microphone_->start();
    snapshot();
    keep_.start();
    emit changed();
    return hears_ ? tr("Recording: talk, play, point. [record] stops.")
                  : tr("No microphone: what you do is recorded, and your notes are its captions. [record] "
                       "stops.");
}

/// A take stands on its own: it begins with all that is seen.
void Recorder::snapshot() {
    last_picture_.reset();
    strokes_.clear();
    begins_ = true;  // all of it holds from the take's first instant on
    core::Deed d = deed(core::Deed::What::chapter);
    d.words = title_.toStdString();
    add(d);
    add(deed(core::Deed::What::caption));
    add(deed(core::Deed::What::alone));
    d = deed(core::Deed::What::part);
    d.part = part_;
    add(d);
    d = deed(core::Deed::What::figure);
    d.figure = figure_;
    add(d);
    add(deed(core::Deed::What::wipe));
    look();
    begins_ = false;
}

void Recorder::add(core::Deed d) {
    d.at_s = begins_ ? begun_at_s_ : now_s();
    d.at_s = std::max(d.at_s, telling_.deeds().empty() ? 0.0 : telling_.deeds().back().at_s);
    telling_.add(std::move(d));
}

/// The frame that is shown now. While it runs forwards at its pace a few of them tell all the others.
void Recorder::look() {
    if (!recording() || two_ || !bench_.is_open() || !bench_.deck().ready()) return;
    core::Deed d = deed(core::Deed::What::picture);
    d.shown = {bench_.review().clip().id.value, bench_.deck().frame()};
    d.runs = player_.playing();
    if (last_picture_) {
        const bool same = last_picture_->shown == d.shown && last_picture_->runs == d.runs;
        const int step = d.shown.frame - last_picture_->shown.frame;
        const bool runs_on = d.runs && last_picture_->runs && step * player_.direction() > 0 &&
                             now_s() - last_picture_->at_s < kPictureEvery_s;
        if (same || runs_on) return;
        // A jump is one: what ran before it does not glide there.
        if (last_picture_->runs && step * player_.direction() < 0) {
            core::Deed stands = *last_picture_;
            stands.runs = false;
            add(stands);
        }
    }
    add(d);
    d.at_s = telling_.deeds().back().at_s;
    last_picture_ = d;
    draw();
}

/// What is drawn on this frame, from the moment it is.
void Recorder::draw() {
    if (!recording() || !bench_.is_open()) return;
    std::vector<core::Stroke> here;
    for (const store::Sketch& s : bench_.review().sketches()) {
        if (player_.playing() || s.frame != bench_.deck().frame() || s.slot != bench_.review().slot())
            continue;
        here.push_back({static_cast<core::Stroke::Kind>(s.kind), s.a, s.b, s.words});
    }
    if (here == strokes_) return;
    std::size_t kept = strokes_.size();
    if (here.size() < kept || !std::equal(strokes_.begin(), strokes_.end(), here.begin())) {
        add(deed(core::Deed::What::wipe));
        kept = 0;
    }
    for (std::size_t i = kept; i < here.size(); ++i) {
        core::Deed d = deed(core::Deed::What::stroke);
        d.stroke = here[i];
        add(d);
    }
    strokes_ = std::move(here);
}

void Recorder::hear(const std::vector<std::int16_t>& samples) {
    if (!recording() || !voice_) return;
    try {
        if (!std::exchange(first_heard_, true)) {
            // The device took its time: what it gives now began so long ago, and before that is silence.
            const double late = seconds() - static_cast<double>(samples.size()) / sound::Microphone::kRate;
            if (late > 0)
                voice_->add(
                    std::vector<std::int16_t>(static_cast<std::size_t>(late * sound::Microphone::kRate)));
        }
        voice_->add(samples);
    } catch (const core::Refused& e) {
        hears_ = false;
        microphone_->stop();
        emit say(QString::fromUtf8(e.what()));
    }
    int loudest = 0;
    for (const std::int16_t s : samples) loudest = std::max(loudest, std::abs(static_cast<int>(s)));
    level_ = static_cast<float>(loudest) / 32768.0F;
    emit heard();
}

void Recorder::see(const core::SeenPart& part) {
    if (part_ == part) return;
    part_ = part;
    if (!recording()) return;
    core::Deed d = deed(core::Deed::What::part);
    d.part = part;
    add(d);
}

void Recorder::show_figure(bool on) {
    if (figure_ == on) return;
    figure_ = on;
    if (!recording()) return;
    core::Deed d = deed(core::Deed::What::figure);
    d.figure = on;
    add(d);
}

void Recorder::speak_of(const QString& title) {
    if (title_ == title) return;
    title_ = title;
    if (!recording()) return;
    core::Deed d = deed(core::Deed::What::chapter);
    d.words = title.toStdString();
    add(d);
}

void Recorder::show_two(std::optional<std::pair<core::ShownFrame, core::ShownFrame>> two) {
    if (!two && !two_) return;
    two_ = two.has_value();
    if (!recording()) return;
    if (!two) {
        add(deed(core::Deed::What::alone));
        last_picture_.reset();
        return look();
    }
    core::Deed d = deed(core::Deed::What::picture);
    d.shown = two->first;
    add(d);
    d = deed(core::Deed::What::beside);
    d.shown = two->second;
    add(d);
}

/// Written as it goes, and no step of its own.
void Recorder::keep() {
    if (!recording()) return;
    core::Telling so_far = telling_;
    const double now = now_s();
    so_far.recorded(now);
    so_far.tell(index_, {begun_at_s_, now});
    spoken_->timeline = core::write_telling(so_far);
    // A review that is there is changed once, when the take is whole; a new one is kept as it grows.
    if (!fresh_ && !stopping_) return;
    try {
        if (!fresh_)
            return bench_.yard().step(tr("Talk anew"),
                                      [&](store::YardStore& records) { records.update(*spoken_); });
        bench_.yard().quietly([&](store::YardStore& records) {
            if (spoken_->id)
                records.update(*spoken_);
            else
                spoken_->id = records.add(*spoken_);
        });
    } catch (const core::Refused& e) {
        emit say(QString::fromUtf8(e.what()));
    }
}

std::optional<store::SpokenId> Recorder::stop() {
    if (!recording()) return std::nullopt;
    if (hears_) microphone_->stop();  // gives what it still holds
    keep_.stop();
    const double length = seconds();
    look();
    std::optional<store::SpokenId> out;
    if (length >= kShortest_s) {
        stopping_ = true;
        keep();
        stopping_ = false;
        out = spoken_->id;
    } else if (fresh_) {
        if (spoken_->id)
            bench_.yard().quietly([&](store::YardStore& records) { records.remove(spoken_->id); });
        voice_.reset();
        QFile::remove(voice_name());
    }
    voice_.reset();
    spoken_.reset();
    hears_ = false;
    emit changed();
    return out;
}

}  // namespace aspen::app

#include "moc_recorder.cpp"
