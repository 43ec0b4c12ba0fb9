#pragma once

#include <QObject>
#include <map>
#include <optional>

#include "app/review/review.hpp"
#include "core/proposal/pose.hpp"

namespace aspen::app {

/// Placing the joints of the moment one is at: which is asked for, which is held, a drag while it lasts, and
/// what the moment says live. Interface thread only.
class Marking : public QObject {
    Q_OBJECT
  public:
    explicit Marking(Review& review, QObject* parent = nullptr);

    /// The figure here, with the drag in it; where nobody marked, what is offered.
    core::Figure figure() const;
    /// A figure that was read on a frame before anyone marked it. While the coach stays on that frame it
    /// stands there as one that nobody confirmed; nothing is written. Confirming it, or moving a joint of it,
    /// makes it the frame's own, with its phase ("": none).
    void offer(int frame, const core::Figure& figure, const std::string& phase);
    /// Whether what stands here is only offered.
    bool offered() const;
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
    /// confirmed follow as the limbs pull them, unless it moves alone. What comes to lie beside where it was
    /// read (core::lies_beside) asks for a yes of its own.
    void drag(core::Landmark l, core::Point to, double zoom, bool alone = false);
    void end_drag();
    bool dragging() const { return drag_.has_value(); }

    /// A whole figure at once, as one undo step; makes the moment if needed.
    void put_figure(const core::Figure& figure, std::optional<core::Point> head_top, const QString& what,
                    int gesture = 0);
    /// Joints that the program placed judge nothing until they are confirmed, all at once or one.
    void confirm(std::optional<core::Landmark> only = {});
    bool has_unconfirmed() const;
    /// Whether a joint lies far beside where it was read on this frame.
    bool seen_elsewhere(core::Landmark l) const { return beside(figure(), l); }
    /// What is there and not confirmed, head to heel, first what a band waits for.
    std::vector<core::Landmark> waiting() const;
    /// The rider's own limb lengths and the pose the seat usually has here.
    core::PoseFrame pose_frame() const;

    /// Marks the frame's confirmed joints again without showing them. False with fewer than five.
    bool start_blind();
    void leave_blind();
    bool blind() const { return blind_.has_value(); }
    /// This coach's click error where the shorter side is 1080, from joints marked again on at least three
    /// frames; the usual one before that.
    double own_click_sd() const { return own_click_sd_; }

    /// What the moment here says, live.
    const std::vector<core::Judged>& judged() const { return judged_; }

    /// The figure, what is asked for and what it says, after what they rest on changed.
    void refresh();
    /// The deck is about to leave the frame, or came to another one.
    void leave_frame() { end_drag(); }
    void come_to_frame();
    /// Another rider's figure is shown.
    void let_go();

  signals:
    /// All joints were marked again: what that says of the coach's own error.
    void blind_done(const QString& line);

  private:
    void say_figure() { news_.add(BenchPart::figure); }
    void judge();
    void wanted_first(std::vector<core::Landmark>& order) const;
    void choose_asked();
    void learn_limbs();
    void learn_click_error();
    void place_blind(core::Point at);
    double click_sd(double zoom) const;
    /// Whether a joint of this figure lies beside where it was read on this frame.
    bool beside(const core::Figure& figure, core::Landmark l) const;
    void put(core::Landmark l, const core::Mark& mark, int gesture);
    Review& review_;
    Yard& yard_;
    ClipDeck& deck_;
    BenchNews& news_;
    core::Limbs limbs_;
    store::RiderId limbs_of_;
    std::optional<core::Landmark> asked_, selected_;
    bool others_ = false;
    struct Drag {
        core::Landmark landmark;
        core::Figure before, figure;
    };
    std::optional<Drag> drag_;
    struct Offer {
        store::ClipId clip;
        int slot, frame;
        core::Figure figure;
        std::string phase;
    };
    std::optional<Offer> offer_;
    /// What was offered by frame, of the rider last offered, so that a joint moved far beside is asked for.
    struct Read {
        store::ClipId clip;
        int slot = 0;
        std::map<int, core::Figure> figures;
    };
    Read read_;
    struct Blind {
        core::Figure shown;  ///< what was marked again so far
        std::vector<core::Landmark> left;
    };
    std::optional<Blind> blind_;
    double own_click_sd_ = core::kClickSdAt1080Px;
    int nudges_ = 0;  ///< the gesture that a run of nudges belongs to
    std::vector<core::Judged> judged_;
    core::Figure judged_figure_;  ///< what they say it of, and in what
    core::Setting judged_in_;
};

}  // namespace aspen::app
