#include "ui/review/why_panel.hpp"

#include <QGridLayout>
#include <QHBoxLayout>
#include <QMenu>
#include <QTimer>
#include <algorithm>
#include <nlohmann/json.hpp>

#include "app/yard/own_knowledge.hpp"
#include "core/ride/rule_words.hpp"
#include "ui/shared/widgets.hpp"

namespace aspen::ui {
namespace {

constexpr core::AttentionGroup kGroups[] = {core::AttentionGroup::safety, core::AttentionGroup::base,
                                            core::AttentionGroup::trunk,  core::AttentionGroup::head,
                                            core::AttentionGroup::arms,   core::AttentionGroup::fine};

/// The words a list is left with once one of them is taken out; every word there is where nothing was listed.
template <typename Enum, std::size_t N>
nlohmann::json without(const std::vector<Enum>& listed, const std::array<Enum, N>& all, Enum gone) {
    nlohmann::json out = nlohmann::json::array();
    for (const Enum e : listed.empty() ? std::vector<Enum>(all.begin(), all.end()) : listed) {
        if (e != gone) out.push_back(std::string(core::word(e)));
    }
    return out;
}

}  // namespace

WhyPanel::WhyPanel(const app::BenchState& now, QWidget* parent) : BenchPanel(now, parent) {
    setObjectName("ground");
    setAccessibleName(tr("Why it was said"));
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(26, 6, 16, 6);
    row->setSpacing(24);
    rule_ = column(4);
    words_ = column(4);
    auto* holder = new QWidget;
    deeds_ = new QGridLayout(holder);
    deeds_->setContentsMargins(0, 0, 0, 0);
    deeds_->setSpacing(4);
    row->addWidget(scrolled(holder, this), 4);
}

void WhyPanel::show_state(app::BenchParts what) {
    using P = app::BenchPart;
    if (isVisible() && !now_.marking().dragging() && what & (P::findings | P::figure)) rebuild();
}

std::unique_ptr<StandingLines> WhyPanel::column(int stretch) {
    auto* holder = new QWidget;
    auto* out = new QVBoxLayout(holder);
    out->setContentsMargins(0, 0, 0, 0);
    out->setSpacing(2);
    static_cast<QHBoxLayout*>(layout())->addWidget(scrolled(holder, this), stretch);
    return std::make_unique<StandingLines>(*out);
}

void WhyPanel::open(const QString& fault) {
    id_ = fault.toStdString();
    rebuild();
}

void WhyPanel::line(StandingLines& to, const QString& words, bool strong) {
    to.add((strong ? "1 " : "2 ") + words, [&] {
        auto* label = text_label(words, this, 14, strong);
        label->setWordWrap(true);
        return label;
    });
    lines_ << words;
}

void WhyPanel::rebuild() {
    for (StandingLines* l : {rule_.get(), words_.get()}) l->begin();
    lines_.clear();
    const core::Fault* fault = now_.knowledge().faults.find(id_);
    if (fault) {
        add_rule(*fault);
        add_words(*fault);
    } else {
        line(*rule_, tr("Nothing is named yet. Choose a finding, and its rule stands here."));
    }
    for (StandingLines* l : {rule_.get(), words_.get()}) l->end();
    rebuild_deeds(fault);
}

/// What can be changed of it, made anew only where that is something else.
void WhyPanel::rebuild_deeds(const core::Fault* fault) {
    const core::Setting here = now_.review().setting();
    const core::Stretch& stretch = now_.review().stretch();
    const DeedsFor now{id_, &now_.knowledge(), stretch.gait, stretch.seat, here.school};
    if (std::exchange(deeds_for_, now) == now) return;
    clear(*deeds_);
    if (fault && fault->kind == core::Fault::Kind::fault && !id_.starts_with("unsteady_")) add_deeds(*fault);
    deeds_->setRowStretch(4, 1);
}

void WhyPanel::add_rule(const core::Fault& fault) {
    const core::Knowledge& knowledge = now_.knowledge();
    const bool own = !app::own_fault(now_.yard(), id_).empty();
    line(*rule_, own ? tr("%1 · changed by you").arg(text(fault.name)) : text(fault.name), true);
    for (const core::RuleLine& r : core::rule_in_words(fault, knowledge)) {
        const QString indent = QString(r.depth * 3, QChar(0xA0));
        line(*rule_, indent + sentence(text(r.words)));
        const core::Judged* j = r.measure.empty() ? nullptr : core::find(now_.marking().judged(), r.measure);
        if (!j) continue;
        const QString held = indent + text(core::held_against(*j, knowledge.schools));
        const QString why = j->band ? text(j->band->why + "\n" + j->band->source) : QString();
        rule_->add(held + why, [&] {
            auto* label = quiet_label(held, this);
            label->setWordWrap(true);
            label->setToolTip(why);
            return label;
        });
        lines_ << held;
    }
    const QString asked = text(core::asked_in_words(fault.where));
    if (!asked.isEmpty()) line(*rule_, tr("Asked %1.").arg(asked));
    line(*rule_, tr("In the order of attention: %1.").arg(text(core::spoken(fault.group))));
}

void WhyPanel::add_words(const core::Fault& fault) {
    line(*words_, sentence(text(fault.says)) + ".");
    if (!fault.rider.empty()) line(*words_, tr("To the rider: %1.").arg(text(fault.rider)));
    if (!fault.horse.empty()) line(*words_, tr("For the horse: %1.").arg(text(fault.horse)));
    if (!fault.look_alike.empty()) line(*words_, tr("Told apart: %1.").arg(text(fault.look_alike)));
}

void WhyPanel::add_deeds(const core::Fault& fault) {
    const auto deed = [this](const QString& words, const std::function<void()>& act) {
        auto* b = new QPushButton(words, this);
        b->setObjectName("deed");
        b->setFocusPolicy(Qt::TabFocus);
        // The button goes with what it changes: let its own click end first.
        connect(b, &QPushButton::clicked, this, [this, act] { QTimer::singleShot(0, this, act); });
        const int n = deeds_->count();
        deeds_->addWidget(b, n / 2, n % 2);
        return b;
    };
    const core::Setting here = now_.review().setting();
    if (const auto measure = core::leading_measure(fault); !measure.empty())
        deed(tr("Change its band"), [this, m = text(measure)] { emit wants_band(m); });
    if (!fault.by_eye) deed(tr("Only by my eye"), [this] { change(Deed::only_by_eye); });
    if (now_.review().stretch().gait)
        deed(tr("Not in %1").arg(text(core::spoken(here.gait))), [this] { change(Deed::not_in_gait); });
    if (now_.review().stretch().seat)
        deed(tr("Not in %1").arg(text(core::spoken(here.seat))), [this] { change(Deed::not_in_seat); });
    auto* group = deed(tr("Attention: %1").arg(text(core::spoken(fault.group))), [] {});
    auto* groups = new QMenu(group);
    for (const core::AttentionGroup g : kGroups)
        groups->addAction(text(core::spoken(g)), this, [this, g] { set_group(g); });
    group->setMenu(groups);
    auto* words = deed(tr("Say it otherwise"), [] {});
    auto* fields = new QMenu(words);
    const std::tuple<QString, const char*, std::string> all[] = {
        {tr("Its name"), "name", fault.name},
        {tr("To the coach"), "says", fault.says},
        {tr("To the rider"), "rider", fault.rider},
        {tr("For the horse"), "horse", fault.horse},
        {tr("What tells it apart"), "look_alike", fault.look_alike}};
    for (const auto& [title, field, now] : all)
        fields->addAction(title, this, [this, title, f = std::string(field), n = text(now)] {
            emit wants_words(title, n, [this, f](const QString& said) { say_otherwise(f, said); });
        });
    words->setMenu(fields);
    if (!app::own_fault(now_.yard(), id_).empty())
        deed(tr("As it ships"), [this] { change(Deed::as_shipped); });
}

void WhyPanel::want(const app::ChangeRule& rule) {
    emit wants(rule);
    rebuild();
}

void WhyPanel::change(Deed deed) {
    const core::Fault* fault = now_.knowledge().faults.find(id_);
    if (!fault) return;
    const core::Setting here = now_.review().setting();
    const auto not_in = [&](const char* field, const nlohmann::json& left, const QString& said) {
        if (left.empty()) return emit say(tr("It would be asked nowhere then; name it by eye alone."));
        want({id_, field, left.dump(), said});
    };
    switch (deed) {
        case Deed::only_by_eye:
            return want(
                {id_, "eye", "true", tr("Named by your eye alone from now on; [undo] takes it back.")});
        case Deed::not_in_gait:
            return not_in("gaits", without(fault->where.gaits, core::kGaits, here.gait),
                          tr("Not asked in this gait any more; [undo] takes it back."));
        case Deed::not_in_seat:
            return not_in("seats", without(fault->where.seats, core::kSeats, here.seat),
                          tr("Not asked in this seat any more; [undo] takes it back."));
        case Deed::as_shipped:
            return want({id_, {}, {}, {}});
    }
}

void WhyPanel::set_group(core::AttentionGroup group) {
    want({id_, "group", nlohmann::json(std::string(core::word(group))).dump(), {}});
}

void WhyPanel::say_otherwise(const std::string& field, const QString& words) {
    want({id_, field, nlohmann::json(words.toStdString()).dump(), {}});
}

}  // namespace aspen::ui

#include "moc_why_panel.cpp"
