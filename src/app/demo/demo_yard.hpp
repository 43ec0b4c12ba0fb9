#pragma once

#include <QDate>
#include <QObject>
#include <memory>
#include <vector>

#include "app/yard/importer.hpp"
#include "app/yard/yard.hpp"
#include "simulate/clip_maker.hpp"

namespace aspen::app {

/// One clip of the demo yard: who, when, how they rode, and whether the coach has reviewed it already.
struct DemoReview {
    const char* rider;
    const char* horse;
    const char* school;
    core::Gait gait;
    core::Seat seat;
    int days_ago;
    bool reviewed;
    simulate::ClipPlan plan;
    const char* clock = "T17:00:00";  ///< when that day
    store::Place place = store::Place::lesson;
    const char *goal = "", *question = "", *hurts = "";  ///< what the rider says
    bool followed = false;  ///< the coach had the joints followed from the marked moments
    struct Logged {
        double time_s;
        const char *event, *detail;
    };
    std::vector<Logged>
        logged{};  ///< what the coach logged while the clip played; take-offs and landings besides
};

/// All clips of the demo, the waiting ones first, so that there is something to do at once. At most 3,000
/// frames.
std::vector<DemoReview> demo_reviews();

/// Joints a coach would have clicked: the truth of a clip's frame plus seeded normal click noise of sd_px.
core::Figure clicked_figure(const std::map<std::string, simulate::TruePoint>& truth, core::View view,
                            double sd_px, unsigned seed);

/// Fills a yard with the demo: the riders at once, the clips painted in the background, each then brought in,
/// marked (on frames read back from its MP4), measured and recorded like any other. Stopped half-way it goes
/// on at the next start where it was. Interface thread.
class DemoYard : public QObject {
    Q_OBJECT
  public:
    explicit DemoYard(Yard& yard, std::vector<DemoReview> reviews = demo_reviews());
    void start();
    int total() const { return static_cast<int>(reviews_.size()); }

  signals:
    void progress(int clips_done, int clips_total);
    void finished();
    void failed(const QString& line);

  public:
    struct Made;  ///< what was painted, before it is recorded

  private:
    void make_next();
    void record(const DemoReview& review, const Made& made);
    void read_strides(const store::Clip& clip, const Made& made);
    void add_people();
    Yard& yard_;
    std::vector<DemoReview> reviews_;
    int done_ = 0;
};

}  // namespace aspen::app
