#pragma once

#include <QObject>
#include <QTemporaryDir>
#include <memory>

#include "app/leaving/face_plan.hpp"
#include "exchange/bundle.hpp"
#include "exchange/coco.hpp"

/// Rides as a bundle, for another yard.
namespace aspen::app {

/// A film on its way into a bundle: as it is, or with the faces covered.
struct FilmForBundle {
    std::filesystem::path file;
    std::string hash, name;  ///< name: in the bundle
    std::vector<FaceToCover> faces;
    QString of{};  ///< which clip it is, for a line about it
};
/// What goes into a bundle: the records of each ride as JSON, moments as COCO, events, what the coach said
/// apart, and the films.
struct BundlePlan {
    exchange::Manifest manifest;
    std::vector<exchange::BundlePart> parts;  ///< all but the films
    std::vector<FilmForBundle> films;
    struct Marks {
        std::string name;
        std::size_t film = 0;  ///< of `films`: whose size the pictures have
        std::vector<exchange::MarkedMoment> moments;
    };
    std::vector<Marks> marks;
    int rides = 0;
};
/// Everybody in the clips of these rides has to be allowed to leave. Throws core::Refused when there is
/// nothing to send.
BundlePlan bundle_of(Yard& yard, const std::vector<store::RideId>& rides, const Permit& permit);
/// Asks for everyone in the clips of these rides.
PermitOrLine ask_for_bundle(Yard& yard, const std::vector<store::RideId>& rides);
/// Of a rider, oldest first.
std::vector<store::RideId> rides_with_clips(Yard& yard, store::RiderId rider);

/// What became of it.
struct BundleMade {
    QString trouble;
    std::string sha256{};
};
/// Writes it. Any thread; films in which a face is covered are written anew on the way. Throws core::Refused.
BundleMade write_bundle(const BundlePlan& plan, const Permit& permit, const QString& file, Job& job);

/// Writing and taking in, both as jobs of the yard.
class Bundles : public QObject {
    Q_OBJECT
  public:
    explicit Bundles(Yard& yard, QObject* parent = nullptr) : QObject(parent), yard_(yard) {}
    /// Each gives one line when it cannot start.
    QString write(const std::vector<store::RideId>& rides, const QString& file);
    QString open(const QString& file);
    bool busy() const { return job_ && !job_->ended(); }

  signals:
    void finished(const QString& line, bool good);

  private:
    Yard& yard_;
    JobHandle job_;
};

}  // namespace aspen::app
