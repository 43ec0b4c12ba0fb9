#include "ui/shared/view_keys.hpp"

namespace aspen::ui {
namespace {

struct ViewKey {
    const char* view;
    const char* id;
    const char* keys;  ///< several are separated by blanks
};

constexpr ViewKey kViewKeys[] = {
    {"rides", "open_ride", "Enter Return Space"},
    {"rides", "take_proposed", "Y"},
    {"rides", "join_rides", "J"},
    {"rides", "split_ride", "S"},
    {"rides", "promise", "P"},
    {"rides", "unpromise", "Shift+P"},
    {"rides", "trash_ride", "Del"},
    {"rides", "set_clock", "C"},
    {"rides", "edit_horse", "H"},
    {"rides", "search", "/"},
    {"riders", "show_rider", "Enter Return"},
    {"riders", "edit_rider", "E"},
    {"prescribe", "give", "G"},
    {"prescribe", "page", "S"},
    {"review", "copy_frame", "Ctrl+C"},
    {"review", "copy_bare_frame", "Ctrl+Shift+C"},
    {"review", "save_frame", "Ctrl+S"},
    {"review", "save_stretch", "Ctrl+Shift+S"},
    {"everywhere", "find_action", "Ctrl+K"},
    {"everywhere", "find_words", "Ctrl+F"},
    {"everywhere", "add_clips", "Ctrl+O"},
    {"everywhere", "undo", "Ctrl+Z"},
    {"everywhere", "redo", "Ctrl+Y Ctrl+Shift+Z"},
    {"everywhere", "save_marks", "Ctrl+E"},
    {"everywhere", "take_marks", "Ctrl+I"},
    {"everywhere", "theme", "F9"},
    {"everywhere", "all_keys", "F1 ?"},
    {"everywhere", "leave", "Ctrl+Q"},
};

}  // namespace

QList<QKeySequence> view_keys(const QString& id) {
    QList<QKeySequence> out;
    for (const ViewKey& k : kViewKeys) {
        if (id != k.id) continue;
        for (const QString& one : QString(k.keys).split(' ')) out << QKeySequence(one);
    }
    return out;
}

QList<std::pair<QString, QString>> view_key_ids() {
    QList<std::pair<QString, QString>> out;
    for (const ViewKey& k : kViewKeys) out << std::pair(QString(k.id), QString(k.view));
    return out;
}

}  // namespace aspen::ui
