#include "ui/schools/band_page.hpp"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>

#include "core/judging/middle_rider.hpp"
#include "ui/shared/rider_drawing.hpp"
#include "ui/shared/theme.hpp"
#include "ui/shared/widgets.hpp"

namespace aspen::ui {
namespace {

constexpr int kBandRow = 27, kRiderShare = 38, kNumberWidth = 96, kBesideWidth = 88, kFieldWidth = 56;

}  // namespace

BandPage::BandPage(BandTable& bands, QWidget* parent) : QWidget(parent), bands_(bands) {
    setFocusPolicy(Qt::StrongFocus);
    setAccessibleName(tr("Ranges of the school"));
    setCursor(Qt::PointingHandCursor);
    const auto field = [this](const QString& name) {
        auto* line = new QLineEdit(this);
        line->setAccessibleName(name);
        line->setAlignment(Qt::AlignRight);
        line->setPlaceholderText(tr("open"));
        line->installEventFilter(this);
        line->hide();
        return line;
    };
    lowest_ = field(tr("Lowest"));
    highest_ = field(tr("Highest"));
    connect(&bands_, &QAbstractItemModel::modelReset, this, [this] {
        setMinimumHeight(scaled_px(kBandRow) * std::max(1, row_count()) + scaled_px(8));
        update();
    });
}

void BandPage::show_school(const core::Setting& setting, const core::Knowledge& known) {
    const core::School* shown = known.schools.find(setting.school);
    inherits_ = shown && !shown->inherits.empty();
    rider_ = core::middle_rider(known.schools, setting);
    judged_.clear();
    for (const core::MeasureInfo& info : core::measures_of(core::View::side)) {
        core::Judged j;
        j.measured.info = &info;
        const core::BandOrReason found = known.schools.band(info.id, setting);
        if (const auto* b = std::get_if<core::Band>(&found)) j.band = *b;
        judged_.push_back(std::move(j));
    }
    update();
}

double BandPage::x_of_rows() const { return width() * kRiderShare / 100.0; }

QRect BandPage::row_area(int row) const {
    const int h = scaled_px(kBandRow), left = static_cast<int>(x_of_rows());
    return {left, scaled_px(4) + row * h, width() - left, h};
}

QString BandPage::row_words(int row) const {
    const auto said = [&](BandTable::Column c) { return bands_.index(row, c).data().toString(); };
    return tr("%1: %2 to %3, from %4")
        .arg(said(BandTable::measure_column), said(BandTable::lowest), said(BandTable::highest),
             said(BandTable::from));
}

void BandPage::choose(int row) {
    set_current_row(row);
    setFocus();
    update();
}

void BandPage::write(int row) {
    set_current_row(row);
    update();
    if (!(bands_.flags(bands_.index(row, BandTable::lowest)) & Qt::ItemIsEditable)) return emit wants_copy();
    writing_ = row;
    const auto fill = [&](QLineEdit* line, BandTable::Column column) {
        line->setText(bands_.index(row, column).data(Qt::EditRole).toString());
        line->show();
    };
    fill(lowest_, BandTable::lowest);
    fill(highest_, BandTable::highest);
    place_fields();
    lowest_->setFocus();
    lowest_->selectAll();
}

void BandPage::place_fields() {
    if (writing_ < 0) return;
    const QRect area = row_area(writing_);
    const int wide = scaled_px(kFieldWidth), right = area.right() - scaled_px(kBesideWidth);
    highest_->setGeometry(right - wide, area.top(), wide, area.height());
    lowest_->setGeometry(right - 2 * wide - 4, area.top(), wide, area.height());
}

/// Both numbers in turn; what is refused stays to be mended.
void BandPage::keep() {
    if (writing_ < 0) return;
    const int row = writing_;
    const std::pair<BandTable::Column, QString> said[] = {{BandTable::lowest, lowest_->text().trimmed()},
                                                          {BandTable::highest, highest_->text().trimmed()}};
    for (const auto& [column, words] : said) {
        const QModelIndex cell = bands_.index(row, column);
        if (words == cell.data(Qt::EditRole).toString()) continue;
        if (!bands_.setData(cell, words, Qt::EditRole)) return;
    }
    stop_writing();
}

void BandPage::stop_writing() {
    writing_ = -1;
    lowest_->hide();
    highest_->hide();
    setFocus();
    update();
}

void BandPage::paint_row(QPainter& p, int row) const {
    const Theme& t = theme();
    const QRect area = row_area(row);
    const auto cell = [&](BandTable::Column c, int role = Qt::DisplayRole) {
        return bands_.index(row, c).data(role);
    };
    const core::MeasureInfo& info = bands_.measure(row);
    // Of a school that takes the rest from another, its own numbers stand out.
    const bool own = inherits_ && cell(BandTable::lowest, Qt::FontRole).isValid();
    const QString unit = info.unit == "deg" ? QString::fromUtf8("°") : QString(" %");
    p.setPen(t.ink);
    p.setFont(text_font(14, own));
    const int right = area.right() - scaled_px(kBesideWidth), left = area.left() + scaled_px(10);
    const QString words = sentence(text(info.spoken));
    p.drawText(
        QRect(left, area.top(), right - scaled_px(kNumberWidth) - left, area.height()),
        Qt::AlignVCenter | Qt::AlignLeft,
        QFontMetrics(p.font()).elidedText(words, Qt::ElideRight, right - scaled_px(kNumberWidth) - left));
    if (row != writing_) {
        const QString lo = cell(BandTable::lowest).toString(), hi = cell(BandTable::highest).toString();
        const QString open = tr("open");
        const QString range = lo == QString::fromUtf8("–") ? tr("not held")
                              : lo == open                 ? tr("up to %1").arg(hi) + unit
                              : hi == open                 ? tr("from %1").arg(lo) + unit
                                                           : tr("%1 to %2").arg(lo, hi) + unit;
        p.drawText(QRect(right - scaled_px(kNumberWidth + 40), area.top(), scaled_px(kNumberWidth + 40),
                         area.height()),
                   Qt::AlignVCenter | Qt::AlignRight, range);
    }
    const QString beside = cell(BandTable::other).toString();
    const bool same =
        beside == cell(BandTable::lowest).toString() + " … " + cell(BandTable::highest).toString();
    p.setPen(t.quiet);
    p.setFont(text_font(12));
    p.drawText(QRect(right, area.top(), scaled_px(kBesideWidth), area.height()),
               Qt::AlignVCenter | Qt::AlignRight,
               same ? tr("the same")
               : beside.contains(QString::fromUtf8("–"))
                   ? tr("not held")
                   : QString(beside).replace(QString::fromUtf8(" … "), tr(" to ")));
}

void BandPage::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    const Theme& t = theme();
    int hung = 0;  // from the side: those come first and lie beside the rider
    while (hung < row_count() && bands_.measure(hung).view == core::View::side &&
           !core::stride_measure(bands_.measure(hung).id))
        ++hung;
    const double high = std::max(scaled_px(280), hung * scaled_px(kBandRow));
    const QRectF area(8, scaled_px(4), x_of_rows() - scaled_px(56), std::min<double>(high, height() - 8));
    const RiderDrawing rider(rider_, judged_, area);
    p.setPen(QPen(t.line, 1));
    for (int row = 0; row < hung; ++row) {
        const QRect line = row_area(row);
        const QPointF on = rider.anchor(bands_.measure(row)), end(line.left() + 4, line.center().y());
        p.drawPolyline(QPolygonF{{on, QPointF(end.x() - scaled_px(22), end.y()), end}});
    }
    rider.paint(p);
    p.setPen(Qt::NoPen);
    p.setBrush(t.quiet);
    for (int row = 0; row < hung; ++row) p.drawEllipse(rider.anchor(bands_.measure(row)), 2.5, 2.5);
    if (hung < row_count()) {
        const QRect first = row_area(hung);
        p.setPen(QPen(t.line, 1));
        p.drawLine(first.left() + scaled_px(10), first.top(), first.right(), first.top());
        p.setPen(t.quiet);
        p.setFont(text_font(12));
        p.drawText(QRectF(8, first.top(), first.left() - 12, first.height()),
                   Qt::AlignVCenter | Qt::AlignRight, tr("from behind, and over strides"));
    }
    for (int row = 0; row < row_count(); ++row) paint_row(p, row);
    paint_current(p, *this);
}

void BandPage::keyPressEvent(QKeyEvent* e) {
    if (!take_row_key(*this, *e)) QWidget::keyPressEvent(e);
}

void BandPage::mousePressEvent(QMouseEvent* e) {
    for (int row = 0; row < row_count(); ++row) {
        if (row_area(row).contains(e->position().toPoint())) return write(row);
    }
    QWidget::mousePressEvent(e);
}

void BandPage::resizeEvent(QResizeEvent* e) {
    QWidget::resizeEvent(e);
    place_fields();
}

/// The keys of the two fields are theirs: none of them goes on to the rows.
bool BandPage::eventFilter(QObject* watched, QEvent* e) {
    if ((watched != lowest_ && watched != highest_) || e->type() != QEvent::KeyPress)
        return QWidget::eventFilter(watched, e);
    const int key = static_cast<QKeyEvent*>(e)->key();
    if (key == Qt::Key_Return || key == Qt::Key_Enter) {
        keep();
        return true;
    }
    if (key == Qt::Key_Escape) {
        stop_writing();
        return true;
    }
    return key == Qt::Key_Up || key == Qt::Key_Down;
}

}  // namespace aspen::ui

#include "moc_band_page.cpp"
