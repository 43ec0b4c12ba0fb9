#include "ui/shared/key_map.hpp"

#include <QCoreApplication>
#include <nlohmann/json.hpp>

namespace aspen::ui {
namespace {

/// Something one key does on the bench.
struct KeyAction {
    const char* id;
    const char* group;
    const char* words;
    const char* keys;  ///< as it ships; several are separated by spaces
};

constexpr KeyAction kActions[] = {
    {"play", QT_TRANSLATE_NOOP("keys", "Look through"), QT_TRANSLATE_NOOP("keys", "play, pause"), "Space"},
    {"play_back", QT_TRANSLATE_NOOP("keys", "Look through"), QT_TRANSLATE_NOOP("keys", "play backwards"),
     "Shift+Space"},
    {"slower", QT_TRANSLATE_NOOP("keys", "Look through"), QT_TRANSLATE_NOOP("keys", "slower"), "S"},
    {"faster", QT_TRANSLATE_NOOP("keys", "Look through"), QT_TRANSLATE_NOOP("keys", "faster"), "F"},
    {"step_back", QT_TRANSLATE_NOOP("keys", "Look through"), QT_TRANSLATE_NOOP("keys", "one frame back"),
     "Left ,"},
    {"step_on", QT_TRANSLATE_NOOP("keys", "Look through"), QT_TRANSLATE_NOOP("keys", "one frame on"),
     "Right ."},
    {"ten_back", QT_TRANSLATE_NOOP("keys", "Look through"), QT_TRANSLATE_NOOP("keys", "ten frames back"),
     "Shift+Left"},
    {"ten_on", QT_TRANSLATE_NOOP("keys", "Look through"), QT_TRANSLATE_NOOP("keys", "ten frames on"),
     "Shift+Right"},
    {"first", QT_TRANSLATE_NOOP("keys", "Look through"), QT_TRANSLATE_NOOP("keys", "first frame"), "Home"},
    {"last", QT_TRANSLATE_NOOP("keys", "Look through"), QT_TRANSLATE_NOOP("keys", "last frame"), "End"},
    {"loop_from", QT_TRANSLATE_NOOP("keys", "Look through"), QT_TRANSLATE_NOOP("keys", "loop from here"),
     "["},
    {"loop_to", QT_TRANSLATE_NOOP("keys", "Look through"), QT_TRANSLATE_NOOP("keys", "loop to here"), "]"},
    {"loop", QT_TRANSLATE_NOOP("keys", "Look through"), QT_TRANSLATE_NOOP("keys", "loop on, off"), "L"},
    {"other_field", QT_TRANSLATE_NOOP("keys", "Look through"), QT_TRANSLATE_NOOP("keys", "the other field"),
     "H"},
    {"log_events", QT_TRANSLATE_NOOP("keys", "What happens"),
     QT_TRANSLATE_NOOP("keys", "log what happens, by key"), "F8"},
    {"event_next", QT_TRANSLATE_NOOP("keys", "What happens"), QT_TRANSLATE_NOOP("keys", "next event"),
     "Ctrl+PgDown"},
    {"event_previous", QT_TRANSLATE_NOOP("keys", "What happens"), QT_TRANSLATE_NOOP("keys", "event before"),
     "Ctrl+PgUp"},
    {"lap_line", QT_TRANSLATE_NOOP("keys", "What happens"), QT_TRANSLATE_NOOP("keys", "draw the lap line"),
     "Alt+B"},
    {"overstep", QT_TRANSLATE_NOOP("keys", "What happens"),
     QT_TRANSLATE_NOOP("keys", "overstep: fore print, hind print"), "Alt+O"},
    {"step_length", QT_TRANSLATE_NOOP("keys", "What happens"),
     QT_TRANSLATE_NOOP("keys", "a step: print to print"), "Alt+Y"},
    {"unmark_ground", QT_TRANSLATE_NOOP("keys", "What happens"),
     QT_TRANSLATE_NOOP("keys", "take the mark on the ground away"), "Alt+Backspace"},
    {"note_good", QT_TRANSLATE_NOOP("keys", "Notes"), QT_TRANSLATE_NOOP("keys", "good"), "G"},
    {"note_look", QT_TRANSLATE_NOOP("keys", "Notes"), QT_TRANSLATE_NOOP("keys", "look here"), "K"},
    {"note_words", QT_TRANSLATE_NOOP("keys", "Notes"), QT_TRANSLATE_NOOP("keys", "write a word"), "W"},
    {"note_next", QT_TRANSLATE_NOOP("keys", "Notes"), QT_TRANSLATE_NOOP("keys", "next note"), "N"},
    {"note_previous", QT_TRANSLATE_NOOP("keys", "Notes"), QT_TRANSLATE_NOOP("keys", "note before"),
     "Shift+N"},
    {"note_remove", QT_TRANSLATE_NOOP("keys", "Notes"), QT_TRANSLATE_NOOP("keys", "take note away"),
     "Shift+Backspace"},
    {"gait_halt", QT_TRANSLATE_NOOP("keys", "From here on"), QT_TRANSLATE_NOOP("keys", "halt"), "Alt+H"},
    {"gait_walk", QT_TRANSLATE_NOOP("keys", "From here on"), QT_TRANSLATE_NOOP("keys", "walk"), "Alt+W"},
    {"gait_trot", QT_TRANSLATE_NOOP("keys", "From here on"), QT_TRANSLATE_NOOP("keys", "trot"), "Alt+T"},
    {"gait_canter", QT_TRANSLATE_NOOP("keys", "From here on"), QT_TRANSLATE_NOOP("keys", "canter"), "Alt+C"},
    {"gait_jump", QT_TRANSLATE_NOOP("keys", "From here on"), QT_TRANSLATE_NOOP("keys", "jump"), "Alt+J"},
    {"gait_slow_walk", QT_TRANSLATE_NOOP("keys", "From here on"), QT_TRANSLATE_NOOP("keys", "slow walk"),
     "Alt+S"},
    {"gait_flat_walk", QT_TRANSLATE_NOOP("keys", "From here on"), QT_TRANSLATE_NOOP("keys", "flat walk"),
     "Alt+F"},
    {"gait_running_walk", QT_TRANSLATE_NOOP("keys", "From here on"),
     QT_TRANSLATE_NOOP("keys", "running walk"), "Alt+R"},
    {"gait_pace", QT_TRANSLATE_NOOP("keys", "From here on"), QT_TRANSLATE_NOOP("keys", "pace"), "Alt+P"},
    {"gait_step_pace", QT_TRANSLATE_NOOP("keys", "From here on"), QT_TRANSLATE_NOOP("keys", "step pace"),
     "Alt+E"},
    {"gait_rack", QT_TRANSLATE_NOOP("keys", "From here on"), QT_TRANSLATE_NOOP("keys", "rack"), "Alt+K"},
    {"rein_left", QT_TRANSLATE_NOOP("keys", "From here on"), QT_TRANSLATE_NOOP("keys", "left rein"),
     "Alt+Left"},
    {"rein_right", QT_TRANSLATE_NOOP("keys", "From here on"), QT_TRANSLATE_NOOP("keys", "right rein"),
     "Alt+Right"},
    {"rein_straight", QT_TRANSLATE_NOOP("keys", "From here on"), QT_TRANSLATE_NOOP("keys", "straight"),
     "Alt+Up"},
    {"seat_sitting", QT_TRANSLATE_NOOP("keys", "From here on"), QT_TRANSLATE_NOOP("keys", "sitting"),
     "Alt+1"},
    {"seat_rising", QT_TRANSLATE_NOOP("keys", "From here on"), QT_TRANSLATE_NOOP("keys", "rising"), "Alt+2"},
    {"seat_two_point", QT_TRANSLATE_NOOP("keys", "From here on"), QT_TRANSLATE_NOOP("keys", "two-point"),
     "Alt+3"},
    {"seat_half", QT_TRANSLATE_NOOP("keys", "From here on"), QT_TRANSLATE_NOOP("keys", "half seat"), "Alt+4"},
    {"movement", QT_TRANSLATE_NOOP("keys", "From here on"), QT_TRANSLATE_NOOP("keys", "movement shown"), "M"},
    {"movement_asked", QT_TRANSLATE_NOOP("keys", "From here on"), QT_TRANSLATE_NOOP("keys", "movement asked"),
     "Shift+M"},
    {"riding", QT_TRANSLATE_NOOP("keys", "From here on"),
     QT_TRANSLATE_NOOP("keys", "stirrups, reins, hands, line"), "Alt+L"},
    {"cannot_judge", QT_TRANSLATE_NOOP("keys", "From here on"), QT_TRANSLATE_NOOP("keys", "cannot be judged"),
     "Alt+X"},
    {"split", QT_TRANSLATE_NOOP("keys", "From here on"), QT_TRANSLATE_NOOP("keys", "cut here"), "Alt+D"},
    {"join", QT_TRANSLATE_NOOP("keys", "From here on"), QT_TRANSLATE_NOOP("keys", "join with the one before"),
     "Alt+M"},
    {"rename", QT_TRANSLATE_NOOP("keys", "From here on"), QT_TRANSLATE_NOOP("keys", "name the stretch"),
     "Alt+N"},
    {"moment_previous", QT_TRANSLATE_NOOP("keys", "Moments"), QT_TRANSLATE_NOOP("keys", "moment before"),
     "PgUp"},
    {"moment_next", QT_TRANSLATE_NOOP("keys", "Moments"), QT_TRANSLATE_NOOP("keys", "next moment"), "PgDown"},
    {"mark_moment", QT_TRANSLATE_NOOP("keys", "Moments"), QT_TRANSLATE_NOOP("keys", "mark this frame"), "Z"},
    {"name_moment", QT_TRANSLATE_NOOP("keys", "Moments"), QT_TRANSLATE_NOOP("keys", "name the moment"), "I"},
    {"next_stride", QT_TRANSLATE_NOOP("keys", "Moments"),
     QT_TRANSLATE_NOOP("keys", "same phase, next stride"), "E"},
    {"remove_moment", QT_TRANSLATE_NOOP("keys", "Moments"), QT_TRANSLATE_NOOP("keys", "take moment away"),
     "Shift+Del"},
    {"three_clicks", QT_TRANSLATE_NOOP("keys", "Joints"),
     QT_TRANSLATE_NOOP("keys", "figure from three clicks"), "P"},
    {"mirror_clicks", QT_TRANSLATE_NOOP("keys", "Joints"),
     QT_TRANSLATE_NOOP("keys", "mirrored from the other rein"), "Shift+P"},
    {"carry", QT_TRANSLATE_NOOP("keys", "Joints"), QT_TRANSLATE_NOOP("keys", "carry from the nearest moment"),
     "V"},
    {"paste", QT_TRANSLATE_NOOP("keys", "Joints"), QT_TRANSLATE_NOOP("keys", "paste the nearest moment's"),
     "Shift+V"},
    {"confirm", QT_TRANSLATE_NOOP("keys", "Joints"), QT_TRANSLATE_NOOP("keys", "yes, what the picture shows"),
     "Y"},
    {"confirm_one", QT_TRANSLATE_NOOP("keys", "Joints"),
     QT_TRANSLATE_NOOP("keys", "yes, this joint; then the next that was laid"), "Shift+Y"},
    {"cannot_see", QT_TRANSLATE_NOOP("keys", "Joints"), QT_TRANSLATE_NOOP("keys", "can't see it"), "X"},
    {"others", QT_TRANSLATE_NOOP("keys", "Joints"), QT_TRANSLATE_NOOP("keys", "ask for the others too"), "O"},
    {"joint_next", QT_TRANSLATE_NOOP("keys", "Joints"), QT_TRANSLATE_NOOP("keys", "next joint"), "J"},
    {"joint_previous", QT_TRANSLATE_NOOP("keys", "Joints"), QT_TRANSLATE_NOOP("keys", "joint before"),
     "Shift+J"},
    {"reticle", QT_TRANSLATE_NOOP("keys", "Joints"), QT_TRANSLATE_NOOP("keys", "place by keys"), "Shift+R"},
    {"take_away", QT_TRANSLATE_NOOP("keys", "Joints"), QT_TRANSLATE_NOOP("keys", "take joint away"),
     "Del Backspace"},
    {"let_go", QT_TRANSLATE_NOOP("keys", "Joints"), QT_TRANSLATE_NOOP("keys", "let go, leave"), "Esc"},
    {"see_whole", QT_TRANSLATE_NOOP("keys", "See"), QT_TRANSLATE_NOOP("keys", "whole picture"), "1 0"},
    {"see_head", QT_TRANSLATE_NOOP("keys", "See"), QT_TRANSLATE_NOOP("keys", "head"), "2"},
    {"see_trunk", QT_TRANSLATE_NOOP("keys", "See"), QT_TRANSLATE_NOOP("keys", "trunk"), "3"},
    {"see_leg", QT_TRANSLATE_NOOP("keys", "See"), QT_TRANSLATE_NOOP("keys", "leg"), "4"},
    {"see_hand", QT_TRANSLATE_NOOP("keys", "See"), QT_TRANSLATE_NOOP("keys", "hand"), "5"},
    {"see_horse", QT_TRANSLATE_NOOP("keys", "See"), QT_TRANSLATE_NOOP("keys", "horse"), "6"},
    {"zoom_in", QT_TRANSLATE_NOOP("keys", "See"), QT_TRANSLATE_NOOP("keys", "closer"), "+ ="},
    {"zoom_out", QT_TRANSLATE_NOOP("keys", "See"), QT_TRANSLATE_NOOP("keys", "farther"), "-"},
    {"lift", QT_TRANSLATE_NOOP("keys", "See"), QT_TRANSLATE_NOOP("keys", "lighter picture"), "Shift+L"},
    {"upright", QT_TRANSLATE_NOOP("keys", "See"), QT_TRANSLATE_NOOP("keys", "draw an upright"), "U"},
    {"level", QT_TRANSLATE_NOOP("keys", "See"), QT_TRANSLATE_NOOP("keys", "draw a level line"), "Shift+U"},
    {"turned", QT_TRANSLATE_NOOP("keys", "See"), QT_TRANSLATE_NOOP("keys", "turn the drawn horse"),
     "Shift+T"},
    {"scale", QT_TRANSLATE_NOOP("keys", "See"), QT_TRANSLATE_NOOP("keys", "scale from a known length"),
     "Shift+S"},
    {"two_at_once", QT_TRANSLATE_NOOP("keys", "See"), QT_TRANSLATE_NOOP("keys", "two at once"), "D"},
    {"accept", QT_TRANSLATE_NOOP("keys", "Findings"), QT_TRANSLATE_NOOP("keys", "accept"), "A"},
    {"reject", QT_TRANSLATE_NOOP("keys", "Findings"), QT_TRANSLATE_NOOP("keys", "reject"), "R"},
    {"change", QT_TRANSLATE_NOOP("keys", "Findings"), QT_TRANSLATE_NOOP("keys", "call it something else"),
     "C"},
    {"ask_back", QT_TRANSLATE_NOOP("keys", "Findings"), QT_TRANSLATE_NOOP("keys", "ask the rider back"), "B"},
    {"attach", QT_TRANSLATE_NOOP("keys", "Findings"), QT_TRANSLATE_NOOP("keys", "attach this moment"),
     "Shift+A"},
    {"own_finding", QT_TRANSLATE_NOOP("keys", "Findings"), QT_TRANSLATE_NOOP("keys", "a finding of my own"),
     "Shift+F"},
    {"strength", QT_TRANSLATE_NOOP("keys", "Findings"), QT_TRANSLATE_NOOP("keys", "name a strength"),
     "Shift+G"},
    {"point_at", QT_TRANSLATE_NOOP("keys", "On the frame"), QT_TRANSLATE_NOOP("keys", "point at it"),
     "Shift+K"},
    {"circle", QT_TRANSLATE_NOOP("keys", "On the frame"), QT_TRANSLATE_NOOP("keys", "circle it"), "Shift+O"},
    {"write_beside", QT_TRANSLATE_NOOP("keys", "On the frame"), QT_TRANSLATE_NOOP("keys", "write beside it"),
     "Shift+H"},
    {"undraw", QT_TRANSLATE_NOOP("keys", "On the frame"),
     QT_TRANSLATE_NOOP("keys", "take the last drawing away"), "Shift+Q"},
    {"set_face", QT_TRANSLATE_NOOP("keys", "Faces"),
     QT_TRANSLATE_NOOP("keys", "set an ellipse round the face"), "F7"},
    {"set_other_face", QT_TRANSLATE_NOOP("keys", "Faces"),
     QT_TRANSLATE_NOOP("keys", "ring somebody else's face"), "Shift+F7"},
    {"face_gone", QT_TRANSLATE_NOOP("keys", "Faces"),
     QT_TRANSLATE_NOOP("keys", "the face is out of the picture from here"), "Ctrl+F7"},
    {"unset_face", QT_TRANSLATE_NOOP("keys", "Faces"),
     QT_TRANSLATE_NOOP("keys", "take the ellipse here away"), "Alt+F7"},
    {"record", QT_TRANSLATE_NOOP("keys", "Hand over"),
     QT_TRANSLATE_NOOP("keys", "talk over it; hold, or press again to stop"), "F10"},
    {"hand_over", QT_TRANSLATE_NOOP("keys", "Hand over"), QT_TRANSLATE_NOOP("keys", "what the rider gets"),
     "F6"},
    {"mark_again", QT_TRANSLATE_NOOP("keys", "Joints"), QT_TRANSLATE_NOOP("keys", "mark again, blind"),
     "Shift+Z"},
    {"marks", QT_TRANSLATE_NOOP("keys", "Findings"), QT_TRANSLATE_NOOP("keys", "findings on the frame"),
     "Shift+X"},
    {"all_values", QT_TRANSLATE_NOOP("keys", "Findings"),
     QT_TRANSLATE_NOOP("keys", "also values without a band"), "Shift+B"},
    {"checks", QT_TRANSLATE_NOOP("keys", "Findings"), QT_TRANSLATE_NOOP("keys", "check by eye, head to heel"),
     "Shift+C"},
    {"name_by_letters", QT_TRANSLATE_NOOP("keys", "Findings"),
     QT_TRANSLATE_NOOP("keys", "name anything by how it begins"), "/"},
    {"why", QT_TRANSLATE_NOOP("keys", "Findings"), QT_TRANSLATE_NOOP("keys", "why it was said, and its rule"),
     "Shift+I"},
    {"strides", QT_TRANSLATE_NOOP("keys", "Strides"), QT_TRANSLATE_NOOP("keys", "what the strides say"),
     "Alt+V"},
    {"curves", QT_TRANSLATE_NOOP("keys", "Strides"), QT_TRANSLATE_NOOP("keys", "curves under the film"),
     "Alt+U"},
    {"curves_over", QT_TRANSLATE_NOOP("keys", "Strides"),
     QT_TRANSLATE_NOOP("keys", "strides laid over each other"), "Alt+A"},
    {"worst_stride", QT_TRANSLATE_NOOP("keys", "Strides"), QT_TRANSLATE_NOOP("keys", "to the worst stride"),
     "Alt+Z"},
    {"other_rein", QT_TRANSLATE_NOOP("keys", "Strides"), QT_TRANSLATE_NOOP("keys", "against the other rein"),
     "Alt+5"},
    {"stride_start", QT_TRANSLATE_NOOP("keys", "Strides"), QT_TRANSLATE_NOOP("keys", "a stride starts here"),
     "Alt+6"},
    {"stride_off", QT_TRANSLATE_NOOP("keys", "Strides"),
     QT_TRANSLATE_NOOP("keys", "this stride does not count"), "Alt+7"},
    {"fences", QT_TRANSLATE_NOOP("keys", "Strides"), QT_TRANSLATE_NOOP("keys", "fences, phase by phase"),
     "Alt+8"},
    {"ground", QT_TRANSLATE_NOOP("keys", "Strides"),
     QT_TRANSLATE_NOOP("keys", "where the horse went on the ground"), "Shift+D"},
    {"laps_seen", QT_TRANSLATE_NOOP("keys", "What happens"),
     QT_TRANSLATE_NOOP("keys", "log the laps that were seen"), "Alt+9"},
    {"take_seems", QT_TRANSLATE_NOOP("keys", "Prepared"), QT_TRANSLATE_NOOP("keys", "yes, that is ridden"),
     "Alt+Return Alt+Enter"},
    {"seems_next", QT_TRANSLATE_NOOP("keys", "Prepared"),
     QT_TRANSLATE_NOOP("keys", "to the next moment worth marking"), "Alt+."},
    {"seems_previous", QT_TRANSLATE_NOOP("keys", "Prepared"),
     QT_TRANSLATE_NOOP("keys", "to the moment worth marking before"), "Alt+,"},
    {"mark_seen", QT_TRANSLATE_NOOP("keys", "Prepared"),
     QT_TRANSLATE_NOOP("keys", "mark it as it was followed"), "Alt+Down"},
    {"stirrups", QT_TRANSLATE_NOOP("keys", "Findings"), QT_TRANSLATE_NOOP("keys", "note the stirrups' holes"),
     "Alt+I"},
    {"summary", QT_TRANSLATE_NOOP("keys", "Findings"), QT_TRANSLATE_NOOP("keys", "what the ride says"),
     "Shift+W"},
    {"finding_up", QT_TRANSLATE_NOOP("keys", "Findings"), QT_TRANSLATE_NOOP("keys", "finding above"), "Up"},
    {"finding_down", QT_TRANSLATE_NOOP("keys", "Findings"), QT_TRANSLATE_NOOP("keys", "finding below"),
     "Down"},
    {"exercise", QT_TRANSLATE_NOOP("keys", "Findings"), QT_TRANSLATE_NOOP("keys", "find an exercise"),
     "Return Enter"},
    {"ask", QT_TRANSLATE_NOOP("keys", "Clip"), QT_TRANSLATE_NOOP("keys", "what is not yet said"), "Q"},
    {"turn_travel", QT_TRANSLATE_NOOP("keys", "Clip"), QT_TRANSLATE_NOOP("keys", "turn the travel"), "T"},
    {"riders", QT_TRANSLATE_NOOP("keys", "Clip"), QT_TRANSLATE_NOOP("keys", "riders in this clip"), "Alt+G"},
    {"rider_1", QT_TRANSLATE_NOOP("keys", "Clip"), QT_TRANSLATE_NOOP("keys", "first rider"), "F2"},
    {"rider_2", QT_TRANSLATE_NOOP("keys", "Clip"), QT_TRANSLATE_NOOP("keys", "second rider"), "F3"},
    {"rider_3", QT_TRANSLATE_NOOP("keys", "Clip"), QT_TRANSLATE_NOOP("keys", "third rider"), "F4"},
    {"rider_4", QT_TRANSLATE_NOOP("keys", "Clip"), QT_TRANSLATE_NOOP("keys", "fourth rider"), "F5"},
    {"own_side", QT_TRANSLATE_NOOP("keys", "Clip"), QT_TRANSLATE_NOOP("keys", "what the rider says"),
     "Alt+Q"},
    {"say_rider", QT_TRANSLATE_NOOP("keys", "Clip"), QT_TRANSLATE_NOOP("keys", "who rides in this clip"),
     "Ctrl+Shift+R"},
    {"say_horse", QT_TRANSLATE_NOOP("keys", "Clip"), QT_TRANSLATE_NOOP("keys", "which horse this is"),
     "Ctrl+Shift+H"},
    {"next_clip", QT_TRANSLATE_NOOP("keys", "Clip"), QT_TRANSLATE_NOOP("keys", "next clip in the inbox"),
     "Ctrl+Right"},
};

QList<QKeySequence> shipped(const KeyAction& a) {
    QList<QKeySequence> out;
    for (const QString& k : QString(a.keys).split(' ')) out << QKeySequence(k);
    return out;
}

QString in_words(const char* words) { return QCoreApplication::translate("keys", words); }

}  // namespace

QString group_of(const QAction& action) { return action.property("group").toString(); }
void set_group(QAction& action, const QString& group) { action.setProperty("group", group); }

KeyMap::KeyMap(app::Yard& yard, QObject* parent) : QObject(parent), yard_(yard) {
    for (const KeyAction& a : kActions) {
        auto* action = new QAction(in_words(a.words), this);
        action->setObjectName(a.id);
        set_group(*action, in_words(a.group));
        actions_ << action;
        by_id_[a.id] = action;
    }
    load();
}

void KeyMap::load() {
    by_key_.clear();
    const auto own = nlohmann::json::parse(yard_.records().settings.setting("keys", "{}"), nullptr, false);
    for (const KeyAction& a : kActions) {
        QList<QKeySequence> keys = shipped(a);
        if (own.is_object() && own.contains(a.id) && own[a.id].is_array()) {
            keys.clear();
            for (const auto& k : own[a.id]) {
                if (k.is_string()) keys << QKeySequence(QString::fromStdString(k.get<std::string>()));
            }
        }
        by_id_[a.id]->setShortcuts(keys);
        for (const QKeySequence& k : keys) by_key_[k.toString(QKeySequence::PortableText)] = a.id;
    }
}

void KeyMap::save() {
    nlohmann::json own = nlohmann::json::object();
    for (const KeyAction& a : kActions) {
        const auto keys = keys_of(a.id);
        if (keys == shipped(a)) continue;
        own[a.id] = nlohmann::json::array();
        for (const QKeySequence& k : keys)
            own[a.id].push_back(k.toString(QKeySequence::PortableText).toStdString());
    }
    yard_.set("keys", own.dump());
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

QList<QKeySequence> KeyMap::keys_of(const QString& id) const {
    const QAction* a = action(id);
    return a ? a->shortcuts() : QList<QKeySequence>();
}

QString KeyMap::shown(const QString& id) const {
    const auto keys = keys_of(id);
    return keys.isEmpty() ? QString() : keys.front().toString(QKeySequence::NativeText);
}

QString KeyMap::rebind(const QString& id, const QKeySequence& key) {
    QAction* now = action(id);
    if (!now || key.isEmpty()) return {};
    QString lost;
    const QString before = by_key_.value(key.toString(QKeySequence::PortableText));
    if (!before.isEmpty() && before != id) {
        QAction* loser = action(before);
        auto left = loser->shortcuts();
        left.removeAll(key);
        loser->setShortcuts(left);
        lost = loser->text();
    }
    now->setShortcuts({key});
    save();
    return lost;
}

void KeyMap::reset() {
    yard_.set("keys", "{}");
    load();
    emit changed();
}

}  // namespace aspen::ui

#include "moc_key_map.cpp"
