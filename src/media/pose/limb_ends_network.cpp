#include "media/pose/limb_ends_network.hpp"

#include <cmath>

#include "media/pose/network_crop.hpp"

namespace aspen::media {
namespace {

// The network's landmarks, the left one of each pair; the right one follows.
enum : int { index_knuckle = 19, heel_bone = 29, ball_of_foot = 31 };
constexpr int kLandmarks = 39, kValues = 5;  // x, y, z, visibility, presence
constexpr double kPersonAtLeast = 0.5;
/// How far under the line from heel bone to ball the sole lies, and how far its ends lie beyond them; of that
/// line's length (the first two measured on riders that were not drawn here, tools/measure/riders.py; the
/// heel from memory).
constexpr double kSoleUnder = 0.2, kToeBeyond = 0.22, kHeelBeyond = 0;

double sigmoid(double v) { return 1 / (1 + std::exp(-v)); }

/// From the foot's own ends to the edges of the sole under it, `down` to the side on which the sole is.
void put_on_sole(LimbEnds& ends, core::Travel travel) {
    const core::Point along{ends.toe.at.x - ends.heel.at.x, ends.toe.at.y - ends.heel.at.y};
    const double turn = travel == core::Travel::left ? -1 : 1;
    const core::Point down{-turn * along.y * kSoleUnder, turn * along.x * kSoleUnder};
    ends.toe.at = {ends.toe.at.x + kToeBeyond * along.x + down.x,
                   ends.toe.at.y + kToeBeyond * along.y + down.y};
    ends.heel.at = {ends.heel.at.x - kHeelBeyond * along.x + down.x,
                    ends.heel.at.y - kHeelBeyond * along.y + down.y};
}

}  // namespace

struct LimbEndsNetwork::Net {
    cv::dnn::Net net;
};

LimbEndsNetwork::LimbEndsNetwork(const std::filesystem::path& onnx)
    : net_(std::make_unique<Net>(network_from(onnx))) {}
LimbEndsNetwork::~LimbEndsNetwork() = default;

std::optional<LimbEnds> LimbEndsNetwork::run(const Picture& picture, const core::Crop& crop,
                                             core::Travel travel, bool mirrored) {
    const NetworkCrop shown(picture, crop, mirrored);
    net_->net.setInput(cv::dnn::blobFromImage(shown.rgb(), 1 / 255.0, cv::Size(), cv::Scalar(), false));
    std::vector<cv::Mat> out;
    net_->net.forward(out, std::vector<cv::String>{"landmarks", "presence"});
    if (out[1].at<float>(0) < kPersonAtLeast) return std::nullopt;
    const cv::Mat values = out[0].reshape(1, kLandmarks);
    CV_Assert(values.cols == kValues);
    // Who goes to the right shows the right side; in the mirror it is the other way about.
    const int side = (travel == core::Travel::left) != mirrored ? 0 : 1;
    const auto end = [&](int pair) {
        const float* v = values.ptr<float>(pair + side);
        const double x = mirrored ? kNetworkSide - v[0] : v[0];
        return SeenEnd{shown.whole({x, v[1]}), sigmoid(v[3])};
    };
    LimbEnds ends{end(heel_bone), end(ball_of_foot), end(index_knuckle)};
    put_on_sole(ends, travel);
    return ends;
}

}  // namespace aspen::media
