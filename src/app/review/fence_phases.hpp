#pragma once

#include <QImage>
#include <QObject>
#include <QRectF>
#include <map>
#include <vector>

#include "app/review/stride_work.hpp"

namespace aspen::app {

/// One fence of a line, phase by phase.
struct FencePhases {
    struct Phase {
        QString words;
        int frame = 0;
    };
    std::vector<Phase> phases;  ///< approach, take-off, top, landing, departure
    QString said;               ///< what it says of the rider; how it was logged where nothing was followed
    bool proposed = false;      ///< seen in the horse's way, logged by nobody
};
/// The fences of the open clip: each take-off that was logged with its landing; where none was, those the
/// followed withers show.
std::vector<FencePhases> fences_here(const BenchState& bench, const StrideWork& strides);
/// Logs take-offs and landings that were only proposed, as one step; false when there is nothing to log.
bool log_proposed_fences(Bench& bench, const StrideWork& strides);

/// Pictures of frames, read off the interface thread; around the rider where joints were followed. Interface
/// thread only.
class FencePictures : public QObject {
    Q_OBJECT
  public:
    FencePictures(Bench& bench, const StrideWork& strides, QObject* parent = nullptr);
    ~FencePictures() override;
    /// Reads those that are not there; `changed` tells of each batch.
    void want(const std::vector<int>& frames);
    /// Null until it was read.
    QImage of(int frame) const;

  signals:
    void changed();

  private:
    QRectF around(int frame) const;
    Bench& bench_;
    const StrideWork& strides_;
    std::map<int, QImage> ready_;
    JobHandle job_;
};

}  // namespace aspen::app
