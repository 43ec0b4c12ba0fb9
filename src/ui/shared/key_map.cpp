#include "ui/shared/key_map.hpp"

#include <nlohmann/json.hpp>

namespace aspen::ui {
namespace {

constexpr KeyAction kActions[] = {
    {"play", "Look through", "play, pause", "Space"},
    {"play_back", "Look through", "play backwards", "Shift+Space"},
    {"slower", "Look through", "slower", "S"},
    {"faster", "Look through", "faster", "F"},
    {"step_back", "Look through", "one frame back", "Left ,"},
    {"step_on", "Look through", "one frame on", "Right ."},
    {"ten_back", "Look through", "ten frames back", "Shift+Left"},
    {"ten_on", "Look through", "ten frames on", "Shift+Right"},
    {"first", "Look through", "first frame", "Home"},
    {"last", "Look through", "last frame", "End"},
    {"loop_from", "Look through", "loop from here", "["},
    {"loop_to", "Look through", "loop to here", "]"},
    {"loop", "Look through", "loop on, off", "L"},
    {"other_field", "Look through", "the other field", "H"},
    {"note_good", "Notes", "good", "G"},
    {"note_look", "Notes", "look here", "K"},
    {"note_words", "Notes", "write a word", "W"},
    {"note_next", "Notes", "next note", "N"},
    {"note_previous", "Notes", "note before", "Shift+N"},
    {"note_remove", "Notes", "take note away", "Shift+Backspace"},
    {"gait_halt", "From here on", "halt", "Alt+H"},
    {"gait_walk", "From here on", "walk", "Alt+W"},
    {"gait_trot", "From here on", "trot", "Alt+T"},
    {"gait_canter", "From here on", "canter", "Alt+C"},
    {"gait_jump", "From here on", "jump", "Alt+J"},
    {"gait_slow_walk", "From here on", "slow walk", "Alt+S"},
    {"gait_flat_walk", "From here on", "flat walk", "Alt+F"},
    {"gait_running_walk", "From here on", "running walk", "Alt+R"},
    {"gait_pace", "From here on", "pace", "Alt+P"},
    {"gait_step_pace", "From here on", "step pace", "Alt+E"},
    {"gait_rack", "From here on", "rack", "Alt+K"},
    {"rein_left", "From here on", "left rein", "Alt+Left"},
    {"rein_right", "From here on", "right rein", "Alt+Right"},
    {"rein_straight", "From here on", "straight", "Alt+Up"},
    {"seat_sitting", "From here on", "sitting", "Alt+1"},
    {"seat_rising", "From here on", "rising", "Alt+2"},
    {"seat_two_point", "From here on", "two-point", "Alt+3"},
    {"seat_half", "From here on", "half seat", "Alt+4"},
    {"movement", "From here on", "movement shown", "M"},
    {"movement_asked", "From here on", "movement asked", "Shift+M"},
    {"cannot_judge", "From here on", "cannot be judged", "Alt+X"},
    {"split", "From here on", "cut here", "Alt+D"},
    {"join", "From here on", "join with the one before", "Alt+M"},
    {"rename", "From here on", "name the stretch", "Alt+N"},
    {"moment_previous", "Moments", "moment before", "PgUp"},
    {"moment_next", "Moments", "next moment", "PgDown"},
    {"mark_moment", "Moments", "mark this frame", "Z"},
    {"name_moment", "Moments", "name the moment", "I"},
    {"next_stride", "Moments", "same phase, next stride", "E"},
    {"remove_moment", "Moments", "take moment away", "Shift+Del"},
    {"three_clicks", "Joints", "figure from three clicks", "P"},
    {"mirror_clicks", "Joints", "mirrored from the other rein", "Shift+P"},
    {"carry", "Joints", "carry from the nearest moment", "V"},
    {"paste", "Joints", "paste the nearest moment's", "Shift+V"},
    {"confirm", "Joints", "yes, all joints", "Y"},
    {"confirm_one", "Joints", "yes, this joint", "Shift+Y"},
    {"cannot_see", "Joints", "can't see it", "X"},
    {"others", "Joints", "ask for the others too", "O"},
    {"joint_next", "Joints", "next joint", "J"},
    {"joint_previous", "Joints", "joint before", "Shift+J"},
    {"reticle", "Joints", "place by keys", "Shift+R"},
    {"take_away", "Joints", "take joint away", "Del Backspace"},
    {"let_go", "Joints", "let go, leave", "Esc"},
    {"see_whole", "See", "whole picture", "1 0"},
    {"see_head", "See", "head", "2"},
    {"see_trunk", "See", "trunk", "3"},
    {"see_leg", "See", "leg", "4"},
    {"see_hand", "See", "hand", "5"},
    {"see_horse", "See", "horse", "6"},
    {"zoom_in", "See", "closer", "+ ="},
    {"zoom_out", "See", "farther", "-"},
    {"lift", "See", "lighter picture", "Shift+L"},
    {"upright", "See", "draw an upright", "U"},
    {"level", "See", "draw a level line", "Shift+U"},
    {"turned", "See", "turn the drawn horse", "Shift+T"},
    {"scale", "See", "scale from a known length", "Shift+S"},
    {"two_at_once", "See", "two at once", "D"},
    {"accept", "Findings", "accept", "A"},
    {"reject", "Findings", "reject", "R"},
    {"change", "Findings", "call it something else", "C"},
    {"ask_back", "Findings", "ask the rider back", "B"},
    {"attach", "Findings", "attach this moment", "Shift+A"},
    {"own_finding", "Findings", "a finding of my own", "Shift+F"},
    {"strength", "Findings", "name a strength", "Shift+G"},
    {"finding_up", "Findings", "finding above", "Up"},
    {"finding_down", "Findings", "finding below", "Down"},
    {"exercise", "Findings", "find an exercise", "Return Enter"},
    {"ask", "Clip", "what is not yet said", "Q"},
    {"turn_travel", "Clip", "turn the travel", "T"},
    {"riders", "Clip", "riders in this clip", "Alt+G"},
    {"rider_1", "Clip", "first rider", "F2"},
    {"rider_2", "Clip", "second rider", "F3"},
    {"rider_3", "Clip", "third rider", "F4"},
    {"rider_4", "Clip", "fourth rider", "F5"},
    {"own_side", "Clip", "what the rider says", "Alt+Q"},
    {"next_clip", "Clip", "next clip in the inbox", "Ctrl+Right"},
};

QList<QKeySequence> shipped(const KeyAction& a) {
    QList<QKeySequence> out;
    for (const QString& k : QString(a.keys).split(' ')) out << QKeySequence(k);
    return out;
}

}  // namespace

std::span<const KeyAction> key_actions() { return kActions; }

KeyMap::KeyMap(app::Yard& yard, QObject* parent) : QObject(parent), yard_(yard) { load(); }

void KeyMap::load() {
    keys_.clear();
    by_key_.clear();
    const auto own = nlohmann::json::parse(yard_.records().setting("keys", "{}"), nullptr, false);
    for (const KeyAction& a : kActions) {
        QList<QKeySequence> keys = shipped(a);
        if (own.is_object() && own.contains(a.id) && own[a.id].is_array()) {
            keys.clear();
            for (const auto& k : own[a.id]) {
                if (k.is_string()) keys << QKeySequence(QString::fromStdString(k.get<std::string>()));
            }
        }
        keys_[a.id] = keys;
        for (const QKeySequence& k : keys) by_key_[k.toString(QKeySequence::PortableText)] = a.id;
    }
}

void KeyMap::save() {
    nlohmann::json own = nlohmann::json::object();
    for (const KeyAction& a : kActions) {
        if (keys_[a.id] == shipped(a)) continue;
        own[a.id] = nlohmann::json::array();
        for (const QKeySequence& k : keys_[a.id])
            own[a.id].push_back(k.toString(QKeySequence::PortableText).toStdString());
    }
    yard_.records().set_setting("keys", own.dump());
    load();
    emit changed();
}

bool KeyMap::is_modifier(const QKeyEvent& e) {
    return e.key() == Qt::Key_Shift || e.key() == Qt::Key_Control || e.key() == Qt::Key_Alt ||
           e.key() == Qt::Key_Meta || e.key() == Qt::Key_AltGr || e.key() == Qt::Key_unknown;
}

QKeySequence KeyMap::sequence_of(const QKeyEvent& e) {
    Qt::KeyboardModifiers m = e.modifiers() & ~Qt::KeypadModifier;
    const bool sign = e.key() < 0x100 && !QChar(e.key()).isLetterOrNumber() && e.key() != Qt::Key_Space;
    if (sign) m &= ~Qt::ShiftModifier;  // "+" is written with Shift on some keyboards and without on others
    return QKeySequence(static_cast<int>(m) | e.key());
}

QString KeyMap::action_of(const QKeyEvent& e) const {
    if (is_modifier(e)) return {};
    return by_key_.value(sequence_of(e).toString(QKeySequence::PortableText));
}

QList<QKeySequence> KeyMap::keys_of(const QString& action) const { return keys_.value(action); }

QString KeyMap::shown(const QString& action) const {
    const auto keys = keys_.value(action);
    return keys.isEmpty() ? QString() : keys.front().toString(QKeySequence::NativeText);
}

QString KeyMap::rebind(const QString& action, const QKeySequence& key) {
    if (!keys_.contains(action) || key.isEmpty()) return {};
    QString lost;
    const QString before = by_key_.value(key.toString(QKeySequence::PortableText));
    if (!before.isEmpty() && before != action) {
        keys_[before].removeAll(key);
        for (const KeyAction& a : kActions) {
            if (before == a.id) lost = a.words;
        }
    }
    keys_[action] = {key};
    save();
    return lost;
}

void KeyMap::reset() {
    yard_.records().set_setting("keys", "{}");
    load();
    emit changed();
}

}  // namespace aspen::ui
