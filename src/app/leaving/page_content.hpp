#pragma once

#include <QObject>
#include <functional>

#include "app/leaving/face_plan.hpp"
#include "app/leaving/gate.hpp"
#include "app/planning/focus_frame.hpp"
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

/// Reads the pictures of a page in the background, faces covered as the permit says. Interface thread only.
class PageMaker : public QObject {
    Q_OBJECT
  public:
    explicit PageMaker(Yard& yard, QObject* parent = nullptr) : QObject(parent), yard_(yard) {}
    /// Gives one line when it cannot start; then made() or failed() comes.
    QString start(PageDraft draft, const Permit& permit);
    bool busy() const { return job_ && !job_->ended(); }

  signals:
    void made(const aspen::exchange::HandedPage& page);
    void failed(const QString& line);
    void wants_face(aspen::store::ClipId clip, int frame, const QString& line);

  private:
    Yard& yard_;
    JobHandle job_;
};

/// Writes a page by the file's ending, PDF or HTML, and notes that it left. Gives the line that is said.
QString write_page(Yard& yard, const Permit& permit, const exchange::HandedPage& page, const QString& file);

}  // namespace aspen::app
