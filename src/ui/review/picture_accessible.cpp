#include "ui/review/picture_accessible.hpp"

#include <QAccessibleWidget>
#include <memory>

#include "app/files/text.hpp"
#include "ui/review/picture_view.hpp"

namespace aspen::ui {
namespace {

class Joint : public QAccessibleInterface {
  public:
    Joint(PictureView& picture, core::Landmark landmark) : picture_(picture), landmark_(landmark) {}
    bool isValid() const override { return true; }
    QObject* object() const override { return nullptr; }
    QAccessibleInterface* parent() const override { return QAccessible::queryAccessibleInterface(&picture_); }
    QAccessibleInterface* child(int) const override { return nullptr; }
    QAccessibleInterface* childAt(int, int) const override { return nullptr; }
    int childCount() const override { return 0; }
    int indexOfChild(const QAccessibleInterface*) const override { return -1; }
    QAccessible::Role role() const override { return QAccessible::Indicator; }
    void setText(QAccessible::Text, const QString&) override {}
    QRect rect() const override {
        const QPoint c = picture_.mapToGlobal(picture_.to_widget(picture_.figure()[landmark_].at).toPoint());
        return QRect(c - QPoint(11, 11), QSize(23, 23));
    }
    QString text(QAccessible::Text kind) const override {
        const core::Mark mark = picture_.figure()[landmark_];
        if (kind == QAccessible::Name) return app::text(core::spoken(landmark_));
        if (kind == QAccessible::Description) return QString::fromUtf8(core::where(landmark_).data());
        if (kind != QAccessible::Value) return {};
        const QString how = mark.visibility == core::Visibility::hidden ? QObject::tr("hidden")
                            : mark.confirmed                            ? QObject::tr("seen")
                                                                        : QObject::tr("not confirmed");
        return QObject::tr("%1, at %2, %3").arg(how).arg(mark.at.x, 0, 'f', 0).arg(mark.at.y, 0, 'f', 0);
    }
    QAccessible::State state() const override {
        QAccessible::State s;
        s.selectable = true;
        s.selected = picture_.selected() == landmark_;
        return s;
    }

  private:
    PictureView& picture_;
    core::Landmark landmark_;
};

class AccessiblePicture : public QAccessibleWidget {
  public:
    explicit AccessiblePicture(PictureView* picture)
        : QAccessibleWidget(picture, QAccessible::Canvas), picture_(*picture) {
        for (std::size_t i = 0; i < core::kLandmarkCount; ++i)
            joints_.push_back(std::make_unique<Joint>(*picture, static_cast<core::Landmark>(i)));
    }
    int childCount() const override { return static_cast<int>(placed().size()); }
    QAccessibleInterface* child(int n) const override {
        const auto all = placed();
        return n < 0 || static_cast<std::size_t>(n) >= all.size()
                   ? nullptr
                   : joints_[core::index(all[static_cast<std::size_t>(n)])].get();
    }
    int indexOfChild(const QAccessibleInterface* wanted) const override {
        const auto all = placed();
        for (std::size_t i = 0; i < all.size(); ++i) {
            if (joints_[core::index(all[i])].get() == wanted) return static_cast<int>(i);
        }
        return -1;
    }
    QAccessibleInterface* childAt(int x, int y) const override {
        for (const core::Landmark l : placed()) {
            if (joints_[core::index(l)]->rect().contains(x, y)) return joints_[core::index(l)].get();
        }
        return nullptr;
    }

  private:
    /// Head to heel, as they are asked for.
    std::vector<core::Landmark> placed() const {
        const core::Figure f = picture_.figure();
        std::vector<core::Landmark> out;
        for (const core::Landmark l : core::asking_order(f.view)) {
            if (f[l].visibility != core::Visibility::absent) out.push_back(l);
        }
        return out;
    }
    PictureView& picture_;
    std::vector<std::unique_ptr<Joint>> joints_;
};

QAccessibleInterface* make_picture(const QString&, QObject* object) {
    auto* picture = qobject_cast<PictureView*>(object);
    return picture ? new AccessiblePicture(picture) : nullptr;
}

}  // namespace

void make_joints_accessible() {
    static const bool once = [] {
        QAccessible::installFactory(make_picture);
        return true;
    }();
    static_cast<void>(once);
}

}  // namespace aspen::ui
