#pragma once

#include <QString>
#include <QStringList>
#include <QTemporaryDir>
#include <memory>

#include "app/jobs/jobs.hpp"
#include "app/yard/yard.hpp"
#include "core/proposal/proposal.hpp"
#include "exchange/bundle.hpp"

/// Bundles of another yard as records of our own.
namespace aspen::app {

/// A bundle on its way in: unpacked into a folder of its own beneath the yard, looked over and read, all of
/// it away from the records. Any thread; the folder goes away with this.
class UnpackedBundle {
  public:
    /// Throws core::Refused in one line for what is no whole bundle, does not fit on the disk, holds a ride
    /// that cannot be read or a film that is no clip; ReadCancelled once the job is stopped.
    UnpackedBundle(const QString& file, const QString& yard_folder, const core::FigureErrors& errors,
                   Job& job);
    ~UnpackedBundle();
    UnpackedBundle(const UnpackedBundle&) = delete;
    UnpackedBundle& operator=(const UnpackedBundle&) = delete;

    const exchange::Manifest& manifest() const { return manifest_; }

  private:
    friend struct TakenBundle take_bundle(Yard& yard, const UnpackedBundle& bundle);
    struct Content;
    QTemporaryDir folder_;
    exchange::Manifest manifest_;
    std::unique_ptr<Content> content_;
};

/// What came in by a bundle.
struct TakenBundle {
    int rides = 0, clips = 0, moments = 0, known = 0;
    std::string sender;
};
/// Takes it into the records as one change, its films moved into the yard's folder: rides of their own,
/// riders and horses by name where the yard has them, everybody who rides in a clip in a place of their own.
/// What the sender said is kept apart (store::Parcel). Throws core::Refused, and then nothing was taken in.
/// After a kill in the middle the same bundle is taken in as if for the first time.
TakenBundle take_bundle(Yard& yard, const UnpackedBundle& bundle);

/// What the sender of a ride said of it, a line each.
QStringList words_of_parcel(const store::Parcel& parcel);

}  // namespace aspen::app
