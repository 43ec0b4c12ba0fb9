#pragma once

#include <QImage>
#include <QObject>
#include <memory>
#include <vector>

#include "app/review/bench.hpp"

namespace aspen::app {

/// A moment that the bench's own can be held against: of the same clip or an earlier one of this rider.
struct OtherMoment {
    store::ClipId clip;
    store::Moment moment;
    QString words;          ///< "24 Oct · trot rising · top of the rise · frame 33"
    core::Setting setting;  ///< what decides its bands
};

/// One measure at both moments. `changed`: the difference is larger than measuring error (1.96 sd of it).
struct MeasureDifference {
    const core::MeasureInfo* info;
    core::Judged here, there;
    double by = 0, sd = 0;
    bool changed = false;
};

/// Moments worth holding against the one here, likeliest first: the same phase, gait and seat before others,
/// the newest earlier clip before older ones. The one here is left out.
std::vector<OtherMoment> moments_to_compare(Bench& bench);

/// Every measure that both moments give a value for, here minus there. Errors of both count; the error that a
/// clip's unmarked camera shares between two moments of one clip is counted twice, which is on the safe side.
std::vector<MeasureDifference> differences(Bench& bench, const OtherMoment& other);

/// Reads the other moment's picture off the interface thread.
class OtherPicture : public QObject {
    Q_OBJECT
  public:
    explicit OtherPicture(Yard& yard, QObject* parent = nullptr) : QObject(parent), yard_(yard) {}
    void load(const OtherMoment& other);

  signals:
    void loaded(const QImage& picture);
    void failed(const QString& line);

  private:
    Yard& yard_;
    JobHandle loading_;
};

}  // namespace aspen::app
