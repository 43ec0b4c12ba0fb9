#pragma once

#include <cstdint>
#include <iosfwd>
#include <optional>
#include <string>
#include <vector>

#include "core/body/landmarks.hpp"

/// A review that a coach speaks over a clip: what was shown and done while the voice was recorded, and which
/// parts of it are told. Nothing that was recorded is ever thrown away by an edit.
namespace aspen::core {

/// A frame of a clip, by the number of the clip's record.
struct ShownFrame {
    std::int64_t clip = 0;
    int frame = 0;
    friend bool operator==(const ShownFrame&, const ShownFrame&) = default;
};

/// Which part of the picture is seen: its middle in shares of width and height, and how much of it (1: all,
/// 0.5: half its width and half its height).
struct SeenPart {
    double x = 0.5, y = 0.5, share = 1;
    friend bool operator==(const SeenPart&, const SeenPart&) = default;
};

/// Something pointed at for a while; display pixels of the frame.
struct Stroke {
    enum class Kind { arrow, circle, words } kind = Kind::arrow;
    Point a, b;
    std::string words{};
    friend bool operator==(const Stroke&, const Stroke&) = default;
};

/// One thing that the coach did, on the recording's own clock.
struct Deed {
    enum class What { picture, part, figure, stroke, wipe, beside, alone, chapter, caption };
    double at_s = 0;
    What what = What::picture;
    ShownFrame shown{};   ///< picture, beside
    bool runs = false;    ///< picture: it plays on towards the next one
    SeenPart part{};      ///< part
    bool figure = true;   ///< figure: marks and focus are drawn
    Stroke stroke{};      ///< stroke
    std::string words{};  ///< chapter: its title; caption: what is read ("" ends it)
    friend bool operator==(const Deed&, const Deed&) = default;
};

/// All that is seen at one instant.
struct Scene {
    ShownFrame shown;
    std::optional<ShownFrame> beside;
    SeenPart part;
    bool figure = true;
    std::vector<Stroke> strokes;
    std::string chapter, caption;
    friend bool operator==(const Scene&, const Scene&) = default;
};

/// A part of the recording that is told, seconds of the recording.
struct Cut {
    double from_s = 0, to_s = 0;
    double length_s() const { return to_s - from_s; }
    friend bool operator==(const Cut&, const Cut&) = default;
};

struct Chapter {
    double at_s = 0;  ///< of what is told
    std::string title;
};
struct Caption {
    double from_s = 0, to_s = 0;  ///< of what is told
    std::string words;
};
/// What the coach wrote on a frame.
struct NoteOnFrame {
    ShownFrame at;
    std::string words;
};

class Telling {
  public:
    /// ViewActions by time, and the parts that are told, in their order.
    const std::vector<Deed>& deeds() const { return deeds_; }
    const std::vector<Cut>& cuts() const { return cuts_; }
    double recorded_s() const { return recorded_s_; }
    double length_s() const;
    bool empty() const { return cuts_.empty(); }

    /// Adds what was done; times rise. Throws Refused for one that is earlier than the last.
    void add(Deed deed);
    /// The recording is so long now.
    void recorded(double until_s);
    /// A take from here to there is told, in place `index` of the cuts (at the end where it is past it).
    void tell(std::size_t index, Cut take);

    /// Where on the recording something told lies; the end for what is past it. 0 where nothing is told.
    double raw_at(double told_s) const;
    /// All that is seen at an instant of the recording.
    Scene scene(double raw_s) const;

    /// Leaves a part out of what is told. Gives where a new take in its place would go.
    std::size_t leave_out(double from_told_s, double to_told_s);
    /// Shortens a part to so many seconds by taking out its middle; a part that is short already stays.
    void shorten(double from_told_s, double to_told_s, double to_length_s);

    /// By title as it changes through what is told. Players want one at 0: what comes before the first title
    /// is "First look", or belongs to it where that is less than a second.
    std::vector<Chapter> chapters() const;
    /// What is read: captions that were set, and notes from the moment their frame is first come to. Each
    /// stays as long as it takes to read (17 letters a second: common practice, no source; two seconds at
    /// least) or until the next.
    std::vector<Caption> captions(const std::vector<NoteOnFrame>& notes = {}) const;

  private:
    std::vector<Deed> deeds_;
    std::vector<Cut> cuts_;
    double recorded_s_ = 0;
};

/// As JSON that reads back the same. read_telling throws Refused in one line for anything else.
std::string write_telling(const Telling& telling);
Telling read_telling(const std::string& json);

/// Seconds a person needs to read some words.
double reading_time_s(const std::string& words);

/// One thing to show where nobody speaks.
struct ToTell {
    ShownFrame at;
    std::string title, words;
    SeenPart part{};
    double run_in_s = 1.5;  ///< of the clip before the frame, played at half speed; 0 shows it at once
};
/// A review made from notes alone: each is come to, stands as long as it takes to read it, and is a chapter.
/// `fps` is the clip's, over 0.
Telling telling_of(const std::vector<ToTell>& all, double fps);

/// WebVTT (W3C, WebVTT: The Web Video Text Tracks Format) of captions, or of chapters of which each ends
/// where the next begins.
std::string web_vtt(const std::vector<Caption>& captions);
std::string web_vtt(const std::vector<Chapter>& chapters, double length_s);

}  // namespace aspen::core
