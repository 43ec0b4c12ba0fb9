#pragma once

#include <QObject>
#include <QStringList>

#include "app/yard.hpp"

namespace aspen::app {

/// What is known of a file before it becomes a clip. `trouble` is one line when it cannot.
struct IncomingClip {
    QString file;
    std::string hash;
    std::int64_t bytes = 0;
    QString filmed_on;
    QString trouble;
};

/// Reads what a clip's record needs: hash, size, filming date (the container's, else the file's) and that it
/// opens. Any thread; never throws.
IncomingClip look_at(const QString& file);

/// Searches folders for the file with this hash (size first, then hash). Empty when it is nowhere there. Any
/// thread.
QString find_moved(const std::string& hash, std::int64_t bytes, const QStringList& folders);

/// Brings clips in off the interface thread, one after the other.
class Importer : public QObject {
    Q_OBJECT
  public:
    explicit Importer(Yard& yard);
    ~Importer() override;
    void bring_in(const QStringList& files);
    /// Copies the clip into the yard's folder and refers to the copy from then on.
    void keep_copy(store::ClipId clip);
    int waiting() const { return waiting_; }

    /// Writes the record, or finds the one with the same hash (and where it lies now). Interface thread.
    store::ClipId record(const IncomingClip& incoming, bool& known_before);

  signals:
    void imported(aspen::store::ClipId clip, bool known_before);
    void failed(const QString& line);
    void progress(int waiting);

  private:
    /// Lists the clip's frames in the background, so that its length is known and it opens at once later.
    void index(store::ClipId clip);
    Yard& yard_;
    int waiting_ = 0;
};

}  // namespace aspen::app
