#pragma once

#include <QObject>

#include "app/review/bench.hpp"
#include "app/review/eye_pass.hpp"
#include "app/review/intents.hpp"
#include "app/review/review_changes.hpp"
#include "app/yard/importer.hpp"

namespace aspen::app {

/// Carries out what the coach wants of the bench: what changes a record goes through Yard::step. What is
/// refused is said in one line, and changes nothing. Interface thread only.
class Commands : public QObject {
    Q_OBJECT
  public:
    Commands(Bench& bench, Importer& importer, QObject* parent = nullptr)
        : QObject(parent), bench_(bench), importer_(importer) {}
    void carry_out(const aspen::app::Intent& intent);

  signals:
    void say(const QString& line);

  private:
    void go(const GoTo& to) { bench_.deck().go_to(to.frame, to.motion); }
    void go(const RestHere&) { bench_.deck().rest(); }
    void go(const SeeAt& at) { bench_.deck().set_view(at.pixels); }
    void go(const KeepCopy&);
    void go(const SayRider& rider);
    void go(const SayNewRider& rider);
    void go(const SayHorse& horse);
    void go(const SayNewHorse& horse);
    void go(const ChangeRide& change);
    void go(const SayCapture& capture);
    void go(const SayGait& gait);
    void go(const SaySeat& seat);
    void go(const SayView& view) { set_view(bench_.review(), view.view); }
    void go(const SayTravel& travel) { set_travel(bench_.review(), travel.travel); }
    void go(const TurnTravel&) { turn_travel(bench_.review()); }
    void go(const NamePhase& phase) { set_phase(bench_.review(), phase.phase); }
    void go(const SayCamera& camera) { set_camera(bench_.review(), camera.camera, camera.what); }
    void go(const MoveBorder& border);
    void go(const PlaceJoint& joint) { bench_.marking().place(joint.at, joint.zoom); }
    void go(const DragJoint& joint);
    void go(const LetGoOfJoint&) { bench_.marking().end_drag(); }
    void go(const ChooseJoint& joint) { bench_.marking().select(joint.landmark); }
    void go(const AskForJoint& joint) { bench_.marking().ask_for(joint.landmark); }
    void go(const Decide& what) { bench_.findings().decide(what.finding, what.decision, what.to); }
    void go(const AttachMoment& to) { bench_.findings().attach_moment(to.finding); }
    void go(const TakeAwayRemark& remark);
    void go(const AnswerCheck& answer) { answer_here(bench_, answer.check, answer.said); }
    void go(const ChangeRule& rule);
    void go(const SayReaction& reaction);
    Bench& bench_;
    Importer& importer_;
    int border_gesture_ = 0;
};

}  // namespace aspen::app
