#pragma once

#include <QDate>
#include <QObject>
#include <atomic>
#include <memory>
#include <thread>
#include <vector>

#include "app/importer.hpp"
#include "app/yard.hpp"
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
    ~DemoYard() override;
    void start();
    int total() const { return static_cast<int>(reviews_.size()); }

  signals:
    void progress(int clips_done, int clips_total);
    void finished();
    void failed(const QString& line);

  private:
    struct Made;
    void work();
    Made make(const DemoReview& review, int number);
    void record(const DemoReview& review, const Made& made);
    void add_people();
    Yard& yard_;
    std::vector<DemoReview> reviews_;
    QString folder_;
    std::atomic<bool> stop_{false};
    std::thread thread_;
    int done_ = 0;
};

}  // namespace aspen::app
