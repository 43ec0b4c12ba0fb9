#include "media/pose/pose_network.hpp"

#include <algorithm>
#include <cmath>

#include "media/pose/network_crop.hpp"

namespace aspen::media {
namespace {

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
        run.at[joint] = {(c.x + offset.at(2 * i + 1, c)) * kNetworkSide / n,
                         (c.y + offset.at(2 * i, c)) * kNetworkSide / n};
        run.score[joint] = heat.at(i, c);
    }
    return run;
}

}  // namespace

struct PoseNetwork::Net {
    cv::dnn::Net net;
};

PoseNetwork::PoseNetwork(const std::filesystem::path& onnx)
    : net_(std::make_unique<Net>(network_from(onnx))) {}
PoseNetwork::~PoseNetwork() = default;

core::NetworkRun PoseNetwork::run(const Picture& picture, core::Point centre, double side, bool mirrored) {
    const NetworkCrop crop(picture, {centre, side}, mirrored);
    net_->net.setInput(
        cv::dnn::blobFromImage(crop.rgb(), 1 / 127.5, cv::Size(), cv::Scalar::all(127.5), false));
    std::vector<cv::Mat> out;
    net_->net.forward(out, std::vector<cv::String>{"heatmap", "center", "regress", "offset"});
    core::NetworkRun run = decode(out);
    if (mirrored) run = core::unmirrored(run, kNetworkSide);
    for (core::Point& p : run.at) p = crop.whole(p);
    return run;
}

}  // namespace aspen::media
