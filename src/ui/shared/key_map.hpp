#pragma once

#include <QAction>
#include <QHash>
#include <QKeyEvent>
#include <QKeySequence>
#include <QObject>

#include "app/yard/yard.hpp"

namespace aspen::ui {

/// Which group of the bench an action belongs to, in the language of the window.
QString group_of(const QAction& action);
void set_group(QAction& action, const QString& group);

/// Which key does what: an action of the bench for everything a key does, with the keys as shipped or as the
/// coach changed them (kept in the yard's settings). The bench hands its keys to them, so that a letter typed
/// into a field of words stays a letter.
class KeyMap : public QObject {
    Q_OBJECT
  public:
    explicit KeyMap(app::Yard& yard, QObject* parent = nullptr);

    /// Everything a key does, group by group in the order of the overlay; each bears its id as its name.
    QList<QAction*> actions() const { return actions_; }
    /// An action of the bench, or one of the window's that was made known; null when there is none.
    QAction* action(const QString& id) const { return by_id_.value(id); }
    /// An action of the window with its name, so that hints can name it; its key is not changed here.
    void know(QAction* action) { by_id_[action->objectName()] = action; }
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
    QList<QAction*> actions_;
    QHash<QString, QAction*> by_id_;
    QHash<QString, QString> by_key_;
};

}  // namespace aspen::ui
