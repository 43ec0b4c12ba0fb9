#pragma once

#include <QObject>
#include <functional>

#include "app/leaving/face_plan.hpp"
#include "app/leaving/focus_frame.hpp"
#include "app/leaving/gate.hpp"
#include "exchange/handed_page.hpp"

/// What a rider's page says, put together from the records; and the page with its pictures.
namespace aspen::app {

/// A page whose pictures are not read yet.
struct PageDraft {
    exchange::HandedPage page;
    std::optional<FocusFrame> now, then;
};
/// The rider's page as it stands today: the focus, what is practised (or `exercise`, where it is only being
/// thought of), the weeks. Throws core::Refused in one line when the page would have to make something up:
/// nothing is in work, or nothing good is on record. `child`: empty decides by the birth year.
PageDraft page_of(Yard& yard, store::RiderId rider, const core::Exercise* exercise = nullptr,
                  const std::string& fault = {}, std::optional<bool> child = std::nullopt);

/// Whoever rides in its pictures is asked for too.
PermitOrLine ask_for_page(Yard& yard, store::RiderId rider, const PageDraft& draft);

/// Reads a page's pictures, faces covered as the permit says. Any thread once it is made; throws what the
/// reader throws.
class PagePictures {
  public:
    PagePictures(Yard& yard, const PageDraft& draft, const Permit& permit);
    struct Read {
        std::optional<exchange::HandedPage> page;
        QString trouble;  ///< one line where there is no page
        store::ClipId help_clip{};
        int help_at = -1;
    };
    Read read(const Job& job) const;

  private:
    struct Wanted {
        FocusFrame frame;
        QString file;
        std::vector<FaceToCover> faces;
    };
    exchange::HandedPage page_;
    std::vector<Wanted> wanted_;
    bool two_ = false;
};

/// A page with its pictures, whose it is, and with what it may leave: none of them goes without the others.
struct MadePage {
    store::RiderId rider;
    exchange::HandedPage page;
    Permit permit;
};

/// Reads the pictures of a page in the background, faces covered as the permit says. Interface thread only.
class PageMaker : public QObject {
    Q_OBJECT
  public:
    explicit PageMaker(Yard& yard, QObject* parent = nullptr) : QObject(parent), yard_(yard) {}
    /// Gives one line when it cannot start; then made() or failed() comes.
    QString start(store::RiderId rider, PageDraft draft, const Permit& permit);
    bool busy() const { return job_ && !job_->ended(); }
    /// Whose page was begun last.
    store::RiderId rider() const { return rider_; }

  signals:
    void made(const aspen::app::MadePage& page);
    void failed(const QString& line);
    void wants_face(aspen::store::ClipId clip, int frame, const QString& line);

  private:
    Yard& yard_;
    JobHandle job_;
    store::RiderId rider_;
};

/// Writes a page by the file's ending, PDF or HTML; it leaves by that. One line where it does not.
QString write_page(Yard& yard, const MadePage& made, const QString& file);

}  // namespace aspen::app
