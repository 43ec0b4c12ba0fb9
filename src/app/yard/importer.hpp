#pragma once

#include <QObject>
#include <QStringList>

#include "app/yard/yard.hpp"

namespace aspen::app {

/// What is known of a file before it becomes a clip. `trouble` is one line when it cannot.
struct IncomingClip {
    QString file;
    std::string hash;
    std::int64_t bytes = 0;
    QString recorded_at;  ///< local time, ISO 8601
    store::ToldBy told_by = store::ToldBy::nobody;
    QString trouble;
};

/// Reads what a clip's record needs: hash, size, instant of recording (the container's, else the file's) and
/// that it opens. Films and still pictures alike. Any thread; never throws but for a stop.
IncomingClip look_at(const QString& file, const std::atomic<bool>* stop = nullptr);

/// Searches folders for the file with this hash (size first, then hash). Empty when it is nowhere there. Any
/// thread.
QString find_moved(const std::string& hash, std::int64_t bytes, const QStringList& folders,
                   const std::atomic<bool>* stop = nullptr);

/// Files of a folder that may be films or pictures, by name; a file is given back as it is.
QStringList films_in(const QString& file_or_folder);

/// Brings clips in off the interface thread, one after the other.
class Importer : public QObject {
    Q_OBJECT
  public:
    explicit Importer(Yard& yard);
    /// Files, or folders of them; what comes in together is a batch.
    void bring_in(const QStringList& files);
    /// Copies the clip into the yard's folder and refers to the copy from then on.
    void keep_copy(store::ClipId clip);
    int waiting() const { return static_cast<int>(jobs_.size()); }

    /// Writes the record, or finds the one with the same hash (and where it lies now). Interface thread.
    store::ClipId record(const IncomingClip& incoming, bool& known_before, std::int64_t batch = 0);
    /// A clip was found in another folder than it was: the others of its old folder are looked for beside it.
    void find_neighbours(const QString& was, const QString& is);

  signals:
    void imported(aspen::store::ClipId clip, bool known_before);
    void failed(const QString& line);
    void found_again(int clips);
    void progress(int waiting);

  private:
    /// Lists the clip's frames in the background, so that its length is known and it opens at once later.
    void index(store::ClipId clip);
    void take(const IncomingClip& incoming, std::int64_t batch);
    Yard& yard_;
    std::vector<JobHandle> jobs_;
};

}  // namespace aspen::app
