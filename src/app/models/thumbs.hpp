#pragma once

#include <QCache>
#include <QImage>
#include <QObject>
#include <QSet>
#include <atomic>
#include <functional>

#include "app/yard/yard.hpp"

namespace aspen::app {

/// Small pictures of clips, made in the background at low priority and kept in the yard's cache folder.
/// Interface thread only.
class Thumbs : public QObject {
    Q_OBJECT
  public:
    static constexpr int kStills = 8;  ///< in a clip's film

    explicit Thumbs(Yard& yard);
    /// The picture, or a null image and later changed().
    QImage of(const store::Clip& clip, int frame);
    /// Eight pictures of the clip from its start to its end, side by side in one image; null until changed().
    QImage film(const store::Clip& clip);

  signals:
    void changed();

  private:
    using Make = std::function<QImage(const std::string& file, const std::string& hash,
                                      const std::atomic<bool>& stop)>;
    QImage find_or_make(const QString& key, const store::Clip& clip, Make make);
    Yard& yard_;
    QCache<QString, QImage> ready_;
    QSet<QString> waiting_;
};

}  // namespace aspen::app
