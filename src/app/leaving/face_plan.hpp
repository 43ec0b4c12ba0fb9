#pragma once

#include <QString>
#include <functional>
#include <vector>

#include "app/leaving/gate.hpp"
#include "media/pose/face_follower.hpp"

/// Which faces of a clip are covered when it leaves, and where they are on every frame.
namespace aspen::app {

/// A face that has to be covered, and the frames on which it is known.
struct FaceToCover {
    QString name;
    std::vector<media::FaceAnchor> known;  ///< by joints or by an ellipse the coach set, by frame
    std::vector<int> gone;                 ///< from here on it is not in the picture
};
/// The riders' where the permit covers them, and always everybody else's that the coach ringed.
std::vector<FaceToCover> faces_to_cover(Yard& yard, const store::Clip& clip, const Permit& permit);

/// What is covered on the frames first..last.
struct FaceCovers {
    int first = 0;
    std::vector<std::vector<core::FaceCover>> by_frame;
    /// One line where it must not leave: nobody knows where a face is, or too much would have to be covered;
    /// and the frame on which an ellipse would help.
    QString trouble;
    int help_at = -1;
    bool knows(int frame) const {
        return frame >= first && frame - first < static_cast<int>(by_frame.size());
    }
    /// Throws core::Refused for a frame that was not followed to: nobody knows what is bare there.
    const std::vector<core::FaceCover>& at(int frame) const;
};
/// Follows the faces. Any thread; throws what the reader throws, and ReadCancelled.
FaceCovers follow_faces(media::VideoReader& reader, const std::vector<FaceToCover>& faces, int first,
                        int last, const std::function<void(double)>& each = {},
                        const media::Stopped* cancel = nullptr);
/// What is covered on one frame where every face is known on it; trouble else.
FaceCovers faces_known_at(const std::vector<FaceToCover>& faces, int frame);

/// The coach sets an ellipse round the face of a place's rider on a frame, or (`slot` below 0) round somebody
/// else's; one step.
void set_face(Yard& yard, store::ClipId clip, int slot, int frame, const core::Ellipse& face);
/// From this frame on the face is not in the picture.
void set_face_gone(Yard& yard, store::ClipId clip, int slot, int frame);
/// Takes back what was set on a frame, of anybody; false when nothing was.
bool unset_faces(Yard& yard, store::ClipId clip, int frame);

}  // namespace aspen::app
