#pragma once

#include <QObject>
#include <set>
#include <string>

#include "app/review/prepared.hpp"
#include "app/yard/yard.hpp"

namespace aspen::app {

/// Looks through the clips of the inbox in the background, one after the other, so that each is ready when
/// the coach comes to it. Off until it is started; a coach who stops a clip in the list of what runs stops
/// all of it until the program starts again. Interface thread only.
class Preparing : public QObject {
    Q_OBJECT
  public:
    explicit Preparing(Yard& yard);
    ~Preparing() override;

    /// Begins, and takes what comes in from here on. Does nothing where the body-pose network is not there.
    void start();
    void stop();
    bool on() const { return on_; }
    /// Clips of the inbox that still wait.
    int left() const;
    bool busy() const { return job_ && !job_->ended(); }

  signals:
    /// A clip was looked through, whatever came of it.
    void prepared(aspen::store::ClipId clip);
    void say(const QString& line);

  private:
    struct Waiting {
        store::ClipId id;
        ToPrepare clip;
        QString name;
    };
    std::vector<Waiting> waiting() const;
    void next();
    Yard& yard_;
    JobHandle job_;
    std::set<std::string> failed_;  ///< not tried again before the next start
    bool on_ = false;
};

}  // namespace aspen::app
