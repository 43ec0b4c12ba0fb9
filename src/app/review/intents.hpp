#pragma once

#include <QSize>
#include <QString>
#include <functional>
#include <optional>
#include <string>
#include <variant>

#include "core/body/stretches.hpp"
#include "core/judging/said.hpp"
#include "media/reading/clip_engine.hpp"
#include "store/records.hpp"

/// What the coach wants of the bench, as plain values: a panel says one, `Commands` carries it out.
namespace aspen::app {

// Going through the clip.
struct GoTo {
    int frame = 0;
    media::Motion motion = media::Motion::rest;
};
/// The hand has come to rest.
struct RestHere {};
/// How large the picture is seen, in pixels of the screen.
struct SeeAt {
    QSize pixels;
};

// Who rides what, in what, and how it is filmed.
struct SayRider {
    store::RiderId rider;
};
struct SayNewRider {
    std::string name;
};
struct SayHorse {
    store::HorseId horse;
};
struct SayNewHorse {
    std::string name;
};
struct ChangeRide {
    QString what;
    std::function<void(store::Ride&)> change;
};
struct SayCapture {
    core::Capture capture;
};
struct SayGait {
    core::Gait gait;
};
struct SaySeat {
    core::Seat seat;
};
struct SayView {
    core::View view;
};
struct SayTravel {
    core::Travel travel;
};
struct TurnTravel {};
/// The clip is copied into the yard.
struct KeepCopy {};
struct NamePhase {
    std::string phase;
};
struct SayCamera {
    core::CameraPose camera;
    QString what;
};
/// A border of the lane is dragged; `begins` where the hand took hold of it.
struct MoveBorder {
    std::size_t border = 0;
    int frame = 0;
    bool begins = false;
};

// Joints.
struct PlaceJoint {
    core::Point at;
    double zoom = 1;
};
struct DragJoint {
    core::Landmark landmark;
    core::Point to;
    double zoom = 1;
    bool alone = false;
};
struct LetGoOfJoint {};
struct ChooseJoint {
    std::optional<core::Landmark> landmark;
};
struct AskForJoint {
    core::Landmark landmark;
};

// What was found and what the eye says.
struct Decide {
    std::string finding;
    store::Decision decision = store::Decision::accepted;
    std::string to;  ///< another fault, for `changed`
};
struct AttachMoment {
    std::string finding;
};
struct TakeAwayRemark {
    store::Remark remark;
};
struct AnswerCheck {
    std::string check;
    core::CheckAnswer::Said said = core::CheckAnswer::Said::good;
};
/// One field of what ships becomes the coach's own; without a field all is as it ships again.
struct ChangeRule {
    std::string fault, field, value;
    QString said;  ///< once it is done
};
struct SayReaction {
    int ms = 0;
};

using Intent =
    std::variant<GoTo, RestHere, SeeAt, KeepCopy, SayRider, SayNewRider, SayHorse, SayNewHorse, ChangeRide,
                 SayCapture, SayGait, SaySeat, SayView, SayTravel, TurnTravel, NamePhase, SayCamera,
                 MoveBorder, PlaceJoint, DragJoint, LetGoOfJoint, ChooseJoint, AskForJoint, Decide,
                 AttachMoment, TakeAwayRemark, AnswerCheck, ChangeRule, SayReaction>;

}  // namespace aspen::app
