#pragma once

#include <QObject>
#include <QTimer>
#include <optional>
#include <vector>

#include "app/frame_service.hpp"
#include "app/yard.hpp"
#include "core/pose.hpp"

namespace aspen::app {

/// A fault of the open clip as the bench lists it: what all moments together say and what the coach decided.
struct FindingRow {
    core::FoundFault found;
    store::Decision decision = store::Decision::open;
    const core::Fault* changed_to = nullptr;
    int frame = -1;  ///< the moment attached to it; -1 none
    /// What the coach says is there: the changed one, the found one, or nothing when rejected.
    const core::Fault* said() const {
        return decision == store::Decision::rejected ? nullptr : changed_to ? changed_to : found.fault;
    }
};

/// Review of one clip: which clip and frame, the moment there, the joint asked for next, what it all says.
/// Knows no widgets; what it changes goes through the yard. Interface thread only.
class Bench : public QObject {
    Q_OBJECT
  public:
    explicit Bench(Yard& yard, QObject* parent = nullptr);

    Yard& yard() const { return yard_; }
    void open(store::ClipId id);
    void close();
    bool is_open() const { return clip_.has_value(); }
    const store::Clip& clip() const { return *clip_; }
    /// True once the frames are known.
    bool ready() const { return facts_.frames > 0; }
    const media::ClipFacts& facts() const { return facts_; }

    int frame() const { return frame_; }
    /// Goes to a frame; `motion` says how the hand moves, which decides what is shown at once.
    void go_to(int frame, media::Motion motion = media::Motion::rest);
    void step(int by) { go_to(frame_ + by); }
    /// The hand has come to rest: the exact picture at full size.
    void rest();
    /// Pixels in which the picture is seen while the hand moves.
    void set_view(QSize pixels) { frames_.set_view(pixels); }
    /// Next marked moment in a direction; stays when there is none.
    void go_to_moment(int direction);
    /// The picture that is shown and the frame it belongs to; null until it has come.
    const QImage& picture() const { return picture_; }
    int picture_frame() const { return picture_frame_; }
    media::ShownPicture::Kind picture_kind() const { return picture_kind_; }
    /// True when the picture on the bench is the very frame that was asked for, no stand-in: only then joints
    /// are taken.
    bool picture_is_current() const {
        return picture_frame_ == frame_ && picture_kind_ == media::ShownPicture::Kind::exact &&
               !picture_.isNull();
    }
    /// True when it is there at full display size too.
    bool picture_is_full() const { return picture_is_current() && picture_full_; }
    /// Display size of the clip; of the first picture while the frames are still counted.
    QSize display_size() const { return ready() ? QSize(facts_.width, facts_.height) : picture_.size(); }
    /// A small picture near a frame for looking, null while none is made.
    QImage small_picture(int frame) const { return frames_.preview(frame); }
    bool damaged(int frame) const;

    /// How stream time becomes real time: what the coach said, else what the clip's tags say.
    core::CaptureMap capture_map() const;
    /// Stream and real time of the frame; of its second field half a frame later.
    double stream_s(int frame) const;
    double real_s(int frame) const { return capture_map().real_s(stream_s(frame)); }
    /// 0 or 1: which field of an interlaced frame is shown.
    int field() const { return field_; }
    void show_field(int field);

    const std::vector<store::Moment>& moments() const { return moments_; }
    /// The moment at this frame of the rider whose figure is shown; moments() holds those of all riders.
    const store::Moment* moment() const;
    const store::Moment* moment_at(int frame) const;
    core::Figure figure() const;
    /// A moment's figure with the clip's view, travel and camera; an empty one for none.
    core::Figure figure_of(const store::Moment* m) const;
    core::Setting setting() const;
    core::Setting setting_of(int frame, const std::string& phase) const;
    /// What is still to be said for bands at this frame; what the stretch here says is not asked again.
    std::vector<std::string> missing() const;

    /// Several riders in a clip: 0 is the clip's own rider, the others its companions.
    int slot() const { return slot_; }
    void show_slot(int slot);
    const std::vector<store::Companion>& companions() const { return companions_; }
    void add_companion(store::RiderId rider, store::HorseId horse);
    /// The rider whose figure is shown, and the horse; said anew for whoever that is.
    store::RiderId rider() const;
    store::HorseId horse() const;
    void set_pair(store::RiderId rider, store::HorseId horse, const QString& what);

    const core::Stretches& stretches() const { return stretches_; }
    const std::vector<store::Note>& notes() const { return notes_; }
    const std::vector<store::Remark>& remarks() const { return remarks_; }

    /// The joint asked for next; nothing when all of the first nine (or, with `others`, all) are placed or
    /// skipped.
    std::optional<core::Landmark> asked() const { return asked_; }
    void ask_for(core::Landmark l);
    void ask_for_others(bool others);
    bool asks_others() const { return others_; }
    /// Places the asked joint here (display pixels, zoom relative to fitting the bench); makes the moment if
    /// needed.
    void place(core::Point at, double zoom);
    /// "Can't see": marks the asked joint hidden and goes on.
    void skip();
    std::optional<core::Landmark> selected() const { return selected_; }
    void select(std::optional<core::Landmark> l);
    void take_away_selected();
    void nudge_selected(double dx, double dy);
    /// Selects the next or previous placed joint, head to heel.
    void select_next(int by);
    /// A drag: live figure and column from begin to end, one undo step at the end. Joints that nobody
    /// confirmed follow as the limbs pull them, unless it moves alone.
    void drag(core::Landmark l, core::Point to, double zoom, bool alone = false);
    void end_drag();
    bool dragging() const { return drag_.has_value(); }

    /// A whole figure at once, as one undo step; makes the moment if needed.
    void put_figure(const core::Figure& figure, std::optional<core::Point> head_top, const QString& what,
                    int gesture = 0);
    /// Makes this frame a moment, without any joint yet.
    void mark_moment();
    /// Joints that the program placed judge nothing until they are confirmed, all at once or one.
    void confirm(std::optional<core::Landmark> only = {});
    bool has_unconfirmed() const;
    /// The rider's own limb lengths and the pose the seat usually has here.
    core::PoseFrame pose_frame() const;
    /// Goes where this phase should come again one stride later and makes that a moment; false where there is
    /// no such.
    bool guess_next_stride();

    void set_context(const store::ClipContext& context, const QString& what);
    void turn_travel();
    bool travel_doubtful() const;
    /// Two points along something truly upright set the camera's roll.
    void set_upright(core::Point a, core::Point b);
    /// The same from a line that is truly level.
    void set_level(core::Point a, core::Point b);
    /// A line of known length at the rider's distance gives the scale.
    void set_scale(core::Point a, core::Point b, double metres);
    void set_phase(const std::string& phase);
    void remove_moment();

    /// What the current moment says, live.
    const std::vector<core::Judged>& judged() const { return judged_; }
    const std::vector<FindingRow>& findings() const { return findings_; }
    void accept(const std::string& fault);
    void reject(const std::string& fault);
    void change(const std::string& fault, const std::string& to);
    /// "Did you ask for that?": waits for the rider's answer and is no fault meanwhile.
    void ask_back(const std::string& fault);
    /// Attaches the moment here to a finding, or takes it off again.
    void attach_moment(const std::string& fault);
    /// A finding or a strength of the coach's own at a part of the body, seen at this frame.
    void add_remark(store::RemarkKind kind, core::BodyPart part, const QString& words);
    /// Focus among what the coach accepted; while nothing is decided, among what was found.
    std::optional<core::Focus> focus() const;
    std::vector<core::Cause> causes() const;
    /// Measures that are inside their band at every moment that could judge them, best first, in the trade's
    /// words.
    QStringList what_is_good() const;

  signals:
    void closing();
    void clip_opened();
    void previews_made(int made, int total);
    void opening(double share);
    void frame_changed(int frame);
    void picture_changed();
    void moments_changed();
    void figure_changed();
    void asked_changed();
    void findings_changed();
    void notes_changed();
    void trouble(const QString& line);

  private:
    void reload();
    void judge();
    void judge_here();
    void find_faults();
    void take_picture(const FramePicture& picture);
    void keep_place();
    void choose_asked();
    void put(core::Landmark l, const core::Mark& mark, int gesture);
    store::Moment& moment_here();
    void write_decision(const std::string& fault, store::Decision decision, const std::string& to);
    std::vector<core::FoundFault> said_faults() const;
    std::vector<core::Judged> judge_figure(const core::Figure& figure, const core::Setting& setting,
                                           int frame) const;
    void learn_limbs();
    void find_and_open();
    void open_frames(const QString& file);

    Yard& yard_;
    FrameService frames_;
    std::optional<store::Clip> clip_;
    media::ClipFacts facts_;
    int frame_ = 0, picture_frame_ = -1, field_ = 0;
    QImage picture_;
    media::ShownPicture::Kind picture_kind_ = media::ShownPicture::Kind::exact;
    bool picture_full_ = false;
    QTimer place_timer_;  ///< where one is is kept once the hand rests, not at every frame that flies by
    std::vector<store::Moment> moments_;
    core::Stretches stretches_;
    std::vector<store::Note> notes_;
    std::vector<store::Companion> companions_;
    std::vector<store::Remark> remarks_;
    int slot_ = 0;
    core::Limbs limbs_;
    store::RiderId limbs_of_;
    std::optional<core::Landmark> asked_, selected_;
    bool others_ = false;
    struct Drag {
        core::Landmark landmark;
        core::Figure before, figure;
    };
    std::optional<Drag> drag_;
    int gesture_ = 0;
    std::vector<core::Judged> judged_;
    std::vector<FindingRow> findings_;
};

}  // namespace aspen::app
