#pragma once

#include <QHash>
#include <QImage>
#include <QObject>
#include <QSet>
#include <atomic>

#include "app/yard.hpp"

namespace aspen::app {

/// Small pictures of clips, made in the background and kept in the yard's cache folder. Interface thread only.
class Thumbs : public QObject {
    Q_OBJECT
  public:
    explicit Thumbs(Yard& yard);
    ~Thumbs() override;
    /// The picture, or a null image and later changed().
    QImage of(const store::Clip& clip, int frame);

  signals:
    void changed();

  private:
    Yard& yard_;
    QHash<QString, QImage> ready_;
    QSet<QString> waiting_;
    std::atomic<bool> stop_{false};
};

}  // namespace aspen::app
