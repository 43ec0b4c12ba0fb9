#pragma once

#include <QTemporaryDir>
#include <QtGlobal>

namespace aspen::test {

/// A cache of this run's own: what an earlier run of another program kept is not found. What is fetched once,
/// the body-pose network, does not lie there.
class OwnCache {
  public:
    OwnCache() { qputenv("XDG_CACHE_HOME", folder_.path().toUtf8()); }

  private:
    QTemporaryDir folder_;
};

}  // namespace aspen::test
