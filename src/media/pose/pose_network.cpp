#include "media/pose/pose_network.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <opencv2/core.hpp>
#include <opencv2/dnn.hpp>
#include <opencv2/imgproc.hpp>

#include "core/reading/refused.hpp"

namespace aspen::media {
namespace {

constexpr int kSide = 256;           // of the network's picture
constexpr double kCentrePull = 1.8;  // cells: how strongly the middle, or the expected place, is preferred
                                     // (as in the graph's own last steps)

struct Cell {
    int x = 0, y = 0;
};

/// One output of the network: maps of n x n cells.
class Maps {
  public:
    explicit Maps(const cv::Mat& m) : data_(m.ptr<float>()), n_(m.size[2]) {}
    int n() const { return n_; }
    double at(int map, Cell c) const { return data_[(map * n_ + c.y) * n_ + c.x]; }
    template <typename Value>
    Cell best(Value value) const {
        Cell out;
        double top = -1;
        for (Cell c; c.y < n_; ++c.y) {
            for (c.x = 0; c.x < n_; ++c.x) {
                if (const double v = value(c); v > top) top = v, out = c;
            }
        }
        return out;
    }

  private:
    const float* data_;
    int n_;
};

/// Joints in pixels of the network's own picture.
core::NetworkRun decode(const std::vector<cv::Mat>& out) {
    const Maps heat(out[0]), centre(out[1]), regress(out[2]), offset(out[3]);
    const int n = heat.n();
    const auto away = [](Cell c, double x, double y) { return std::hypot(c.y - y, c.x - x) + kCentrePull; };
    // The person nearest the middle, then each joint near where that person's middle expects it.
    const Cell person = centre.best([&](Cell c) { return centre.at(0, c) / away(c, n / 2.0, n / 2.0); });
    core::NetworkRun run;
    for (int i = 0; i < static_cast<int>(core::kNetworkJoints); ++i) {
        const double ey = person.y + regress.at(2 * i, person), ex = person.x + regress.at(2 * i + 1, person);
        const Cell c = heat.best([&](Cell k) { return heat.at(i, k) / away(k, ex, ey); });
        const auto joint = static_cast<std::size_t>(i);
        run.at[joint] = {(c.x + offset.at(2 * i + 1, c)) * kSide / n,
                         (c.y + offset.at(2 * i, c)) * kSide / n};
        run.score[joint] = heat.at(i, c);
    }
    return run;
}

}  // namespace

struct PoseNetwork::Net {
    cv::dnn::Net net;
};

PoseNetwork::PoseNetwork(const std::filesystem::path& onnx) : net_(std::make_unique<Net>()) {
    if (!std::filesystem::exists(onnx)) {
        throw core::Refused(fmt::format(
            "{}: the body-pose network is missing; run ./aspen setup once with a network connection",
            onnx.string()));
    }
    try {
        net_->net = cv::dnn::readNetFromONNX(onnx.string());
    } catch (const cv::Exception& e) {
        throw core::Refused(fmt::format("{}: is no network that can be read; remove it and run ./aspen setup",
                                        onnx.string()));
    }
}
PoseNetwork::~PoseNetwork() = default;

core::NetworkRun PoseNetwork::run(const Picture& picture, core::Point centre, double side, bool mirrored) {
    const double k = kSide / std::max(1.0, side);
    const cv::Mat whole(picture.height, picture.width, CV_8UC4,
                        const_cast<std::uint8_t*>(picture.bgra.data()));
    cv::Mat source = whole, crop;
    if (k < 0.5) {  // no aliasing where the crop is made much smaller
        const int q = static_cast<int>(1 / k);
        cv::blur(whole, source, cv::Size(q, q));
    }
    const cv::Matx23d to_crop(k, 0, kSide / 2.0 - k * centre.x, 0, k, kSide / 2.0 - k * centre.y);
    cv::warpAffine(source, crop, to_crop, cv::Size(kSide, kSide), cv::INTER_LINEAR);
    if (mirrored) cv::flip(crop, crop, 1);
    cv::cvtColor(crop, crop, cv::COLOR_BGRA2RGB);
    net_->net.setInput(cv::dnn::blobFromImage(crop, 1 / 127.5, cv::Size(), cv::Scalar::all(127.5), false));
    std::vector<cv::Mat> out;
    net_->net.forward(out, std::vector<cv::String>{"heatmap", "center", "regress", "offset"});
    core::NetworkRun run = decode(out);
    if (mirrored) run = core::unmirrored(run, kSide);
    for (core::Point& p : run.at) p = {(p.x - to_crop(0, 2)) / k, (p.y - to_crop(1, 2)) / k};
    return run;
}

}  // namespace aspen::media
