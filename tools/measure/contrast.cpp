// How well joints and limbs stand out on pictures: paints the figure over every tenth frame of the clips of a
// folder, where their truth says it is, as the bench does and as the rider's page does, and holds what was
// painted against what lies beside it. Contrast as WCAG 2.1 defines it (relative luminance of sRGB). Reads
// NAME.mp4 with NAME.json (frames[].points, frames[].horse, display pixels). CONTRAST FOLDER

#include <QGuiApplication>
#include <QImage>
#include <QPainter>
#include <algorithm>
#include <cmath>
#include <cstdio>
#include <filesystem>
#include <fstream>
#include <nlohmann/json.hpp>

#include "core/body/body.hpp"
#include "exchange/report.hpp"
#include "media/reading/video_reader.hpp"
#include "ui/shared/figure_painter.hpp"

namespace {

using namespace aspen;
using L = core::Landmark;

constexpr double kWanted = 3.0;  // WCAG 2.1, 1.4.11: what is no text
constexpr int kEvery = 10;
const std::pair<const char*, L> kTruth[] = {
    {"ear", L::ear}, {"shoulder", L::shoulder}, {"elbow", L::elbow}, {"wrist", L::wrist},
    {"hip", L::hip}, {"knee", L::knee},         {"ankle", L::ankle}, {"toe", L::toe}};
const std::pair<const char*, L> kHorseTruth[] = {
    {"horse_withers", L::withers}, {"horse_poll", L::poll}, {"horse_croup", L::croup}};

double luminance(QRgb c) {
    const auto linear = [](int v) {
        const double s = v / 255.0;
        return s <= 0.03928 ? s / 12.92 : std::pow((s + 0.055) / 1.055, 2.4);
    };
    return 0.2126 * linear(qRed(c)) + 0.7152 * linear(qGreen(c)) + 0.0722 * linear(qBlue(c));
}
double contrast(double a, double b) { return (std::max(a, b) + 0.05) / (std::min(a, b) + 0.05); }

core::Figure figure_in(const nlohmann::json& frame, bool left) {
    core::Figure f;
    f.travel = left ? core::Travel::left : core::Travel::right;
    const auto put = [&](const nlohmann::json& all, const char* name, L l) {
        if (!all.contains(name)) return;
        f[l].at = {all[name][0].get<double>() - 0.5, all[name][1].get<double>() - 0.5};
        f[l].visibility = core::Visibility::seen;
    };
    for (const auto& [name, l] : kTruth) put(frame["points"], name, l);
    for (const auto& [name, l] : kHorseTruth) put(frame["horse"], name, l);
    if (f[L::ankle].visibility == core::Visibility::seen) {  // the game's foot has no heel: under the ankle
        f[L::heel] = f[L::ankle];
        f[L::heel].at.y += 10;
    }
    return f;
}

/// Contrasts along the limbs: the better of light core and dark edge against the ground of the worse side.
std::vector<double> along_limbs(const QImage& bare, const QImage& painted, const core::Figure& f,
                                double scale, double reach) {
    std::vector<double> out;
    const auto at = [](const QImage& image, double x, double y) {
        return luminance(image.pixel(std::clamp(static_cast<int>(x), 0, image.width() - 1),
                                     std::clamp(static_cast<int>(y), 0, image.height() - 1)));
    };
    for (const auto& [a, b] : core::segments_of(f.view)) {
        if (f[a].visibility == core::Visibility::absent || f[b].visibility == core::Visibility::absent)
            continue;
        const double ax = f[a].at.x * scale, ay = f[a].at.y * scale, dx = f[b].at.x * scale - ax,
                     dy = f[b].at.y * scale - ay, length = std::hypot(dx, dy);
        if (length < 30) continue;
        const double nx = -dy / length, ny = dx / length;
        for (double s = 10; s < length - 10; s += 3) {  // the joints' own rings left out
            const double x = ax + dx * s / length, y = ay + dy * s / length;
            double lightest = 0, darkest = 1;
            for (double off = -reach; off <= reach; off += 0.5) {
                lightest = std::max(lightest, at(painted, x + nx * off, y + ny * off));
                darkest = std::min(darkest, at(painted, x + nx * off, y + ny * off));
            }
            double worse = 1e9;
            for (const double side : {-1.0, 1.0}) {
                double ground = 0;
                for (double off = reach + 2; off <= reach + 5; off += 1)
                    ground += at(bare, x + side * nx * off, y + side * ny * off) / 4;
                worse = std::min(worse, std::max(contrast(lightest, ground), contrast(darkest, ground)));
            }
            out.push_back(worse);
        }
    }
    return out;
}

void tell(const char* what, std::vector<double> all) {
    if (all.empty()) return;
    std::ranges::sort(all);
    const auto enough = std::ranges::count_if(all, [](double c) { return c >= kWanted; });
    std::printf(
        "  %-28s %6zu places, %5.1f %% at %.0f:1 or more, worst %.1f:1, one in a hundred below %.1f:1\n",
        what, all.size(), 100.0 * static_cast<double>(enough) / static_cast<double>(all.size()), kWanted,
        all.front(), all[all.size() / 100]);
}

void measure(const std::filesystem::path& film) {
    std::ifstream in(std::filesystem::path(film).replace_extension(".json"));
    const auto truth = nlohmann::json::parse(in);
    const bool left = truth.value("travels", "right") == "left";
    media::VideoReader reader(film);
    std::vector<double> bench, bench_small, page;
    for (std::size_t n = 0; n < truth["frames"].size(); n += kEvery) {
        const media::Picture read = reader.picture(static_cast<int>(n));
        const QImage whole =
            QImage(read.bgra.data(), read.width, read.height, read.width * 4, QImage::Format_RGB32).copy();
        const core::Figure figure = figure_in(truth["frames"][n], left);
        for (const double scale : {1.0, 0.6}) {  // the bench at 1280 × 800 shows 720p at about 0.6
            const QImage bare = scale == 1.0 ? whole
                                             : whole.scaled(whole.size() * scale, Qt::IgnoreAspectRatio,
                                                            Qt::SmoothTransformation);
            QImage painted = bare;
            QPainter p(&painted);
            p.setRenderHint(QPainter::Antialiasing);
            ui::paint_figure(p, figure,
                             {[&](core::Point q) { return QPointF(q.x * scale, q.y * scale); },
                              double(bare.height()),
                              {},
                              0,
                              false,
                              {}});
            p.end();
            const auto found = along_limbs(bare, painted, figure, scale, 2.5);
            auto& into = scale == 1.0 ? bench : bench_small;
            into.insert(into.end(), found.begin(), found.end());
        }
        exchange::Annotated marked;
        static const core::Fault leg;
        marked.marks.push_back({&leg, {L::knee, L::ankle, L::heel}, L::heel, std::nullopt, false});
        const QImage painted = exchange::picture_with_figure(whole, figure, false, marked);
        core::Figure limb;  // the fault's limb alone
        for (const L l : {L::knee, L::ankle}) limb[l] = figure[l];
        const auto found = along_limbs(whole, painted, limb, 1, 8);
        page.insert(page.end(), found.begin(), found.end());
    }
    std::printf("%s\n", film.filename().c_str());
    tell("limbs on the bench, 1:1", bench);
    tell("limbs on the bench, 0.6", bench_small);
    tell("the fault on the page", page);
}

}  // namespace

int main(int argc, char** argv) {
    QGuiApplication application(argc, argv);
    if (argc != 2 || !std::filesystem::is_directory(argv[1])) {
        std::fprintf(stderr, "aspen-crest-contrast: name a folder with clips (NAME.mp4 with NAME.json)\n");
        return 2;
    }
    try {
        for (const auto& entry : std::filesystem::directory_iterator(argv[1]))
            if (entry.path().extension() == ".mp4") measure(entry.path());
    } catch (const std::exception& e) {
        std::fprintf(stderr, "aspen-crest-contrast: %s\n", e.what());
        return 3;
    }
    return 0;
}
