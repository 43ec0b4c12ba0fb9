#include "ui/shared/jobs_line.hpp"

#include <QMenu>

namespace aspen::ui {
namespace {

constexpr int kMostListed = 15;

}  // namespace

JobsLine::JobsLine(app::Jobs& jobs, QWidget* parent) : QPushButton(parent), jobs_(jobs) {
    setObjectName("word");
    setFocusPolicy(Qt::TabFocus);
    auto* menu = new QMenu(this);
    connect(menu, &QMenu::aboutToShow, this, [this, menu] { fill(*menu); });
    setMenu(menu);
    connect(&jobs_, &app::Jobs::changed, this, &JobsLine::refresh);
    connect(&jobs_, &QAbstractItemModel::dataChanged, this, &JobsLine::refresh);
    refresh();
}

void JobsLine::fill(QMenu& menu) {
    menu.clear();
    for (int i = 0; i < std::min(jobs_.rowCount(), kMostListed); ++i) {
        const QModelIndex row = jobs_.index(i);
        connect(menu.addAction(tr("Stop: ") + row.data().toString()), &QAction::triggered, this,
                [this, number = row.data(app::Jobs::number_role).toInt()] { jobs_.stop(number); });
    }
    if (jobs_.rowCount() > 1) {
        menu.addSeparator();
        connect(menu.addAction(tr("Stop all %1").arg(jobs_.rowCount())), &QAction::triggered, this,
                [this] { jobs_.stop_all(); });
    }
}

void JobsLine::refresh() {
    const int n = jobs_.rowCount();
    setVisible(n > 0);
    if (n == 0) return;
    const QString first = jobs_.index(0).data().toString();
    const QString words = n == 1 ? first : tr("%1 · %2 more").arg(first).arg(n - 1);
    setText(fontMetrics().elidedText(words, Qt::ElideMiddle, fontMetrics().averageCharWidth() * 42));
    setAccessibleName(tr("Running: ") + words);
    setToolTip(tr("What runs, and its stop"));
}

}  // namespace aspen::ui

#include "moc_jobs_line.cpp"
