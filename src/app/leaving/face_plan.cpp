#include "app/leaving/face_plan.hpp"

#include <algorithm>
#include <map>

#include "core/body/face.hpp"
#include "core/reading/refused.hpp"

namespace aspen::app {
namespace {

/// Joints that mark a face, to be followed.
std::vector<core::Point> face_joints(const core::Figure& f) {
    std::vector<core::Point> out;
    for (const core::Landmark l : {core::Landmark::ear, core::Landmark::eye, core::Landmark::chin}) {
        if (f[l].visibility != core::Visibility::absent) out.push_back(f[l].at);
    }
    return out;
}

/// The anchor on a frame is what the coach set, else what joints mark.
using Known = std::map<int, media::FaceAnchor>;

void take_joints(Known& known, const store::Moment& m) {
    // What was only laid or carried, and nobody looked at, may lie beside the face: it covers nothing.
    const core::Figure sure = core::without_guesses(m.figure);
    const auto face = core::face_ellipse(sure);
    if (!face) return;
    media::FaceAnchor a{m.frame, *face, face_joints(sure)};
    if (a.points.size() < 2) a = media::anchor_of(m.frame, *face);
    known[m.frame] = a;
}

std::vector<media::FaceAnchor> anchors_of(const Known& known) {
    std::vector<media::FaceAnchor> out;
    for (const auto& [frame, anchor] : known) out.push_back(anchor);
    return out;
}

/// Somebody who is in it, nobody knows where: who went out of the records with no mark on the face.
bool is_unknown(const std::vector<store::FaceMark>& marks, int person) {
    return std::ranges::any_of(
        marks, [&](const store::FaceMark& m) { return m.person == person && !m.gone && m.half_wide <= 0; });
}

QString nowhere_known(const FaceToCover& face) {
    return QObject::
        tr("%1's face is not known on any frame here, so nothing leaves: mark ear, eye or chin, or set an "
           "ellipse round it ([set_face]).")
            .arg(face.name);
}

}  // namespace

std::vector<FaceToCover> faces_to_cover(Yard& yard, const store::Clip& clip, const Permit& permit) {
    std::vector<FaceToCover> out;
    const auto marks = yard.records().leaving.face_marks(clip.id);
    const auto take_set = [&](FaceToCover& face, Known& known, int person) {
        for (const store::FaceMark& m : marks) {
            if (m.person != person) continue;
            if (m.gone)
                face.gone.push_back(m.frame);
            else if (m.half_wide > 0)
                known[m.frame] = media::anchor_of(m.frame, {{m.x, m.y}, m.half_wide, m.half_high, 0});
        }
        face.known = anchors_of(known);
    };
    const auto moments = yard.records().reviews.moments(clip.id);
    for (const store::Slot& s : yard.records().rides.places(clip.id)) {
        if (!permit.covers_faces()) break;
        const auto ride = yard.records().rides.ride(s.ride);
        const auto rider = ride ? yard.records().people.rider(ride->rider) : std::nullopt;
        FaceToCover face;
        face.name = rider ? QString::fromStdString(rider->name) : QObject::tr("the rider");
        Known known;
        for (const store::Moment& m : moments) {
            if (m.slot == s.slot) take_joints(known, m);
        }
        take_set(face, known, s.slot);
        out.push_back(std::move(face));
    }
    std::vector<int> others;
    for (const store::FaceMark& m : marks) {
        if (m.person < 0 && std::ranges::find(others, m.person) == others.end()) others.push_back(m.person);
    }
    for (const int person : others) {
        FaceToCover face;
        face.name = QObject::tr("somebody else");
        Known known;
        take_set(face, known, person);
        if (!face.known.empty() || is_unknown(marks, person)) out.push_back(std::move(face));
    }
    return out;
}

const std::vector<core::FaceCover>& FaceCovers::at(int frame) const {
    if (!knows(frame))
        throw core::Refused("face: it was not followed to a frame that is shown; write it again");
    return by_frame[static_cast<std::size_t>(frame - first)];
}

FaceCovers follow_faces(media::VideoReader& reader, const std::vector<FaceToCover>& faces, int first,
                        int last, const std::function<void(double)>& each, const media::Stopped* cancel) {
    FaceCovers out;
    out.first = first;
    out.by_frame.resize(static_cast<std::size_t>(last - first + 1));
    for (std::size_t f = 0; f < faces.size(); ++f) {
        const FaceToCover& face = faces[f];
        if (face.known.empty()) {
            out.trouble = nowhere_known(face);
            out.help_at = first;
            return out;
        }
        const auto part = [&](double share) {
            if (each) each((static_cast<double>(f) + share) / static_cast<double>(faces.size()));
        };
        const auto sure = media::follow_face(reader, face.known, first, last, part, cancel);
        const auto covers = core::covers_through(sure, face.gone, first, last);
        const auto large = core::first_too_large(covers, reader.facts().width, reader.facts().height);
        if (large) {
            out.help_at = first + *large;
            out.trouble = QObject::tr(
                              "%1's face is lost before frame %2, and too much would have to be covered: set "
                              "an ellipse round it there ([set_face]), or say that it is not in the picture.")
                              .arg(face.name)
                              .arg(out.help_at);
            return out;
        }
        for (std::size_t i = 0; i < covers.size(); ++i) {
            if (covers[i]) out.by_frame[i].push_back(*covers[i]);
        }
    }
    return out;
}

FaceCovers faces_known_at(const std::vector<FaceToCover>& faces, int frame) {
    FaceCovers out;
    out.first = frame;
    out.by_frame.resize(1);
    for (const FaceToCover& face : faces) {
        const auto known = std::ranges::find(face.known, frame, &media::FaceAnchor::frame);
        const auto last_gone = std::ranges::find_if(face.gone, [&](int g) {
            return g <= frame && std::ranges::none_of(face.known, [&](const media::FaceAnchor& a) {
                       return a.frame > g && a.frame <= frame;
                   });
        });
        if (known != face.known.end()) {
            out.by_frame[0].push_back({known->face});
        } else if (last_gone == face.gone.end()) {
            out.help_at = frame;
            out.trouble =
                QObject::tr(
                    "%1's face is not marked on this frame: mark ear, eye or chin, or set an ellipse "
                    "round it ([set_face]).")
                    .arg(face.name);
            return out;
        }
    }
    return out;
}

void set_face(Yard& yard, store::ClipId clip, int slot, int frame, const core::Ellipse& face) {
    yard.step(QObject::tr("Set an ellipse round a face"), [&](store::YardStore& records) {
        int person = slot;
        if (slot < 0) {  // the nearest of the others that were ringed before, if it can be the same one
            person = -1;
            double nearest = 1e9;
            bool same = false;
            const auto marks = records.leaving.face_marks(clip);
            for (const store::FaceMark& m : marks) {
                if (m.person >= 0) continue;
                if (!same && is_unknown(marks, m.person)) {  // whose face was looked for
                    person = m.person;
                    same = true;
                    continue;
                }
                const double apart = core::distance({m.x, m.y}, face.centre);
                person = same ? person : std::min(person, m.person - 1);
                const bool near = m.frame != frame && apart < 6 * face.long_half;
                if (near && apart < nearest) {
                    nearest = apart;
                    person = m.person;
                    same = true;
                }
            }
        }
        records.put(store::FaceMark{
            {}, clip, person, frame, face.centre.x, face.centre.y, face.long_half, face.short_half});
    });
}

void set_face_gone(Yard& yard, store::ClipId clip, int slot, int frame) {
    yard.step(QObject::tr("The face is not in the picture from here on"), [&](store::YardStore& records) {
        store::FaceMark m{{}, clip, slot, frame};
        m.gone = true;
        records.put(m);
    });
}

bool unset_faces(Yard& yard, store::ClipId clip, int frame) {
    std::vector<store::FaceMarkId> here;
    for (const store::FaceMark& m : yard.records().leaving.face_marks(clip)) {
        if (m.frame == frame) here.push_back(m.id);
    }
    if (here.empty()) return false;
    yard.step(QObject::tr("Take the ellipse away"), [&](store::YardStore& records) {
        for (const store::FaceMarkId id : here) records.remove(id);
    });
    return true;
}

}  // namespace aspen::app
