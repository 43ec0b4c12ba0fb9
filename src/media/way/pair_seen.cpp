#include "media/way/pair_seen.hpp"

#include <Eigen/Dense>
#include <algorithm>
#include <cmath>
#include <limits>
#include <opencv2/imgproc.hpp>

namespace aspen::media {
namespace {

constexpr int kBackgroundPictures = 9;
constexpr double kDiffers = 14;           // grey levels
constexpr double kLeastAreaShare = 2e-4;  // of the picture
constexpr double kMostAreaShare = 0.35;
constexpr int kMostParts = 6;
// A shadow is the background, darker by one factor all over.
constexpr double kShadowDarkest = 0.4, kShadowAlike = 0.985;
constexpr int kShadowWindow = 7;
constexpr double kJumpShare = 0.6;  // of a silhouette's width, from picture to picture
constexpr double kNoPartCost = 6, kHintCost = 40, kSizeCost = 3;

cv::Mat matrix_cv(const Eigen::Matrix3d& h) {
    cv::Mat out(3, 3, CV_64F);
    for (int i = 0; i < 3; ++i)
        for (int k = 0; k < 3; ++k) out.at<double>(i, k) = h(i, k);
    return out;
}

/// The middle one of several pictures, pixel by pixel, of those that show anything there.
cv::Mat median_of(const std::vector<cv::Mat>& pictures, const std::vector<cv::Mat>& shown, cv::Mat& known) {
    const cv::Size size = pictures.front().size();
    cv::Mat out(size, CV_8U, cv::Scalar(0));
    known = cv::Mat(size, CV_8U, cv::Scalar(0));
    std::vector<std::uint8_t> values;
    for (int y = 0; y < size.height; ++y) {
        for (int x = 0; x < size.width; ++x) {
            values.clear();
            for (std::size_t k = 0; k < pictures.size(); ++k) {
                if (shown[k].empty() || shown[k].at<std::uint8_t>(y, x))
                    values.push_back(pictures[k].at<std::uint8_t>(y, x));
            }
            constexpr std::size_t kFewest = 3;
            if (values.size() < kFewest) continue;
            const auto middle = values.begin() + static_cast<std::ptrdiff_t>(values.size() / 2);
            std::nth_element(values.begin(), middle, values.end());
            out.at<std::uint8_t>(y, x) = *middle;
            known.at<std::uint8_t>(y, x) = 255;
        }
    }
    return out;
}

/// What stands before the background; a darker copy of it is its shadow (Jacques, Jung, Musse, Background
/// subtraction and shadow detection in grayscale video sequences, 2005: correlation over a window).
cv::Mat before_background(const cv::Mat& picture, const cv::Mat& background, const cv::Mat& known) {
    cv::Mat off, mask;
    cv::absdiff(picture, background, off);
    cv::GaussianBlur(off, off, {3, 3}, 0);
    mask = (off > kDiffers) & known;
    cv::Mat a, b, ab, aa, bb;
    picture.convertTo(a, CV_32F);
    background.convertTo(b, CV_32F);
    const cv::Size w(kShadowWindow, kShadowWindow);
    cv::boxFilter(a.mul(b), ab, CV_32F, w);
    cv::boxFilter(a.mul(a), aa, CV_32F, w);
    cv::boxFilter(b.mul(b), bb, CV_32F, w);
    cv::Mat both, ratio, darker = a < b;
    cv::sqrt(aa.mul(bb) + 1, both);
    cv::divide(ab, both, both);
    cv::divide(aa, bb + 1, ratio);
    // The spread of the factor over the window tells a shadow from a plain coat of another grey.
    cv::Mat factor, mean, square;
    cv::divide(a, b + 1, factor);
    cv::boxFilter(factor, mean, CV_32F, w);
    cv::boxFilter(factor.mul(factor), square, CV_32F, w);
    const cv::Mat even = (square - mean.mul(mean)) < 0.0009;
    mask.setTo(0, (both > kShadowAlike) & (ratio > kShadowDarkest * kShadowDarkest) & darker & even);
    return mask;
}

std::vector<PairSeen> parts_of(cv::Mat mask) {
    cv::morphologyEx(mask, mask, cv::MORPH_OPEN, cv::getStructuringElement(cv::MORPH_ELLIPSE, {3, 3}));
    cv::Mat closed, labels, stats, middles;
    cv::morphologyEx(mask, closed, cv::MORPH_CLOSE, cv::getStructuringElement(cv::MORPH_ELLIPSE, {11, 11}));
    const int n = cv::connectedComponentsWithStats(closed, labels, stats, middles, 8, CV_32S);
    const double all = static_cast<double>(mask.rows) * mask.cols;
    std::vector<PairSeen> out;
    for (int k = 1; k < n; ++k) {
        const double area = stats.at<int>(k, cv::CC_STAT_AREA);
        if (area < kLeastAreaShare * all || area > kMostAreaShare * all) continue;
        PairSeen part;
        part.x = middles.at<double>(k, 0);
        part.y = middles.at<double>(k, 1);
        part.left = stats.at<int>(k, cv::CC_STAT_LEFT);
        part.top = stats.at<int>(k, cv::CC_STAT_TOP);
        part.right = part.left + stats.at<int>(k, cv::CC_STAT_WIDTH);
        part.bottom = part.top + stats.at<int>(k, cv::CC_STAT_HEIGHT);
        part.area = area;
        out.push_back(part);
    }
    std::ranges::sort(out, std::ranges::greater{}, &PairSeen::area);
    if (out.size() > kMostParts) out.resize(kMostParts);
    return out;
}

/// Pictures spread over the clip from which a picture's background is taken.
std::vector<std::size_t> others_of(std::size_t i, std::size_t n, const CameraTurns& camera) {
    std::vector<std::size_t> out;
    if (camera.still) {
        for (int k = 0; k < kBackgroundPictures; ++k)
            out.push_back((2 * static_cast<std::size_t>(k) + 1) * n / (2 * kBackgroundPictures));
        return out;
    }
    // A camera that turns has its own background about each picture; the pair has gone on meanwhile.
    for (const int by : {-30, -22, -16, -11, 11, 16, 22, 30}) {
        const auto at = static_cast<std::ptrdiff_t>(i) + by;
        if (at < 0 || at >= static_cast<std::ptrdiff_t>(n)) continue;
        if (camera.to_first[static_cast<std::size_t>(at)]) out.push_back(static_cast<std::size_t>(at));
    }
    return out;
}

}  // namespace

std::optional<PairParts> see_parts(const std::vector<cv::Mat>& grey, const CameraTurns& camera,
                                   const std::function<bool(double)>& going_on) {
    const std::size_t n = grey.size();
    PairParts parts(n);
    cv::Mat background, known;
    for (std::size_t i = 0; i < n; ++i) {
        if (going_on && !going_on(static_cast<double>(i) / static_cast<double>(n))) return std::nullopt;
        if (!camera.to_first[i]) continue;
        if (i == 0 || !camera.still) {
            std::vector<cv::Mat> others, shown;
            for (const std::size_t k : others_of(i, n, camera)) {
                if (camera.still) {
                    others.push_back(grey[k]);
                    shown.emplace_back();
                    continue;
                }
                const cv::Mat h = matrix_cv(camera.to_first[i]->inverse() * *camera.to_first[k]);
                cv::Mat laid, where;
                cv::warpPerspective(grey[k], laid, h, grey[i].size());
                cv::warpPerspective(cv::Mat(grey[k].size(), CV_8U, cv::Scalar(255)), where, h,
                                    grey[i].size());
                cv::erode(where, where, cv::getStructuringElement(cv::MORPH_RECT, {5, 5}));
                others.push_back(laid);
                shown.push_back(where);
            }
            if (others.size() < 3) continue;
            background = median_of(others, shown, known);
        }
        parts[i] = parts_of(before_background(grey[i], background, known));
    }
    return parts;
}

std::vector<std::optional<PairSeen>> pair_among(const PairParts& parts, const std::vector<PairHint>& hints) {
    const std::size_t n = parts.size();
    // The last place of each picture is "none seen".
    std::vector<std::vector<double>> cost(n);
    std::vector<std::vector<std::size_t>> from(n);
    std::vector<double> sizes;
    for (const auto& p : parts) {
        if (!p.empty()) sizes.push_back(p.front().area);
    }
    if (sizes.empty()) return std::vector<std::optional<PairSeen>>(n);
    std::ranges::sort(sizes);
    const double usual = sizes[sizes.size() / 2];
    const auto own = [&](std::size_t i, std::size_t k) {
        if (k == parts[i].size()) return kNoPartCost;
        const PairSeen& p = parts[i][k];
        double out = std::max(0.0, std::log(usual / p.area)) * 1.5;
        for (const PairHint& h : hints) {
            if (h.picture != i) continue;
            const double wide = std::max(p.right - p.left, p.bottom - p.top);
            if (std::hypot(p.x - h.x, p.y - h.y) > 0.8 * wide) out += kHintCost;
        }
        return out;
    };
    for (std::size_t i = 0; i < n; ++i) {
        cost[i].assign(parts[i].size() + 1, std::numeric_limits<double>::max());
        from[i].assign(parts[i].size() + 1, 0);
        for (std::size_t k = 0; k <= parts[i].size(); ++k) {
            if (i == 0) {
                cost[i][k] = own(i, k);
                continue;
            }
            for (std::size_t j = 0; j <= parts[i - 1].size(); ++j) {
                double step = 0;
                if (k < parts[i].size() && j < parts[i - 1].size()) {
                    const PairSeen &a = parts[i - 1][j], &b = parts[i][k];
                    const double reach = kJumpShare * std::max(b.right - b.left, 8.0);
                    const double away = std::hypot(a.x - b.x, a.y - b.y) / reach;
                    step = away * away + kSizeCost * std::abs(std::log(a.area / b.area));
                }
                if (cost[i - 1][j] + step < cost[i][k]) {
                    cost[i][k] = cost[i - 1][j] + step;
                    from[i][k] = j;
                }
            }
            cost[i][k] += own(i, k);
        }
    }
    std::vector<std::optional<PairSeen>> out(n);
    auto at = static_cast<std::size_t>(std::ranges::min_element(cost.back()) - cost.back().begin());
    for (std::size_t i = n; i-- > 0;) {
        if (at < parts[i].size()) out[i] = parts[i][at];
        at = from[i][at];
    }
    return out;
}

}  // namespace aspen::media
