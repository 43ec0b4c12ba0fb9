#pragma once

#include <QHash>
#include <QKeyEvent>
#include <QKeySequence>
#include <QObject>
#include <functional>
#include <span>

#include "app/yard/yard.hpp"

namespace aspen::ui {

/// Something one key does on the bench.
struct KeyAction {
    const char* id;
    const char* group;
    const char* words;
    const char* keys;  ///< as it ships; several are separated by spaces
};

/// Everything a key does on the bench, group by group in the order of the overlay.
std::span<const KeyAction> key_actions();

/// Which key does what: as shipped, with the coach's own changes kept in the yard's settings.
class KeyMap : public QObject {
    Q_OBJECT
  public:
    explicit KeyMap(app::Yard& yard, QObject* parent = nullptr);

    /// The action a key does; empty when none.
    QString action_of(const QKeyEvent& event) const;
    QList<QKeySequence> keys_of(const QString& action) const;
    /// "Space", "Shift+N": the first key of an action for showing, empty when it has none.
    QString shown(const QString& action) const;
    /// Gives the action this one key. When another action has it, that one loses it and its words are
    /// returned.
    QString rebind(const QString& action, const QKeySequence& key);
    void reset();

    /// The key of an event with its modifiers, as a sequence; letters without the shift that writing them may
    /// need.
    static QKeySequence sequence_of(const QKeyEvent& event);
    /// True when the event is only a modifier being pressed.
    static bool is_modifier(const QKeyEvent& event);

  signals:
    void changed();

  private:
    void load();
    void save();
    app::Yard& yard_;
    QHash<QString, QList<QKeySequence>> keys_;
    QHash<QString, QString> by_key_;
};

}  // namespace aspen::ui
