#include "app/leaving/tracks_exchange.hpp"

#include <sstream>

#include "app/files/whole_file.hpp"
#include "app/leaving/marks_exchange.hpp"
#include "exchange/tracks.hpp"

namespace aspen::app {

QString export_tracks(Bench& bench, const StrideWork& work, const QString& file) {
    if (!bench.is_open()) return QObject::tr("There is no open clip whose joints could be saved.");
    const core::Tracks* tracks = work.tracks();
    if (!tracks)
        return QObject::tr("The joints of this stretch were not followed yet; [strides] follows them.");
    const PermitOrLine asked = ask_to_leave(bench.yard(), bench.review().clip(), Use::page);
    if (!asked) return asked.error();
    std::ostringstream text;
    exchange::write_tracks(text, *tracks);
    return leave(bench.yard(), *asked, {"tracks", about_clip(bench), file, false},
                 [&](const QString& to) { return write_whole(to, QByteArray::fromStdString(text.str())); });
}

}  // namespace aspen::app
