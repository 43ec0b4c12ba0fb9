#include "media/pose/network_crop.hpp"

#include <fmt/format.h>

#include <opencv2/imgproc.hpp>

#include "core/reading/refused.hpp"

namespace aspen::media {

NetworkCrop::NetworkCrop(const Picture& picture, const core::Crop& crop, bool mirrored)
    : k_(kNetworkSide / std::max(1.0, crop.side)), centre_(crop.centre) {
    const cv::Mat whole(picture.height, picture.width, CV_8UC4,
                        const_cast<std::uint8_t*>(picture.bgra.data()));
    cv::Mat source = whole;
    if (k_ < 0.5) {  // no aliasing where the crop is made much smaller
        const int q = static_cast<int>(1 / k_);
        cv::blur(whole, source, cv::Size(q, q));
    }
    const cv::Matx23d to_crop(k_, 0, kNetworkSide / 2.0 - k_ * centre_.x, 0, k_,
                              kNetworkSide / 2.0 - k_ * centre_.y);
    cv::warpAffine(source, rgb_, to_crop, cv::Size(kNetworkSide, kNetworkSide), cv::INTER_LINEAR);
    if (mirrored) cv::flip(rgb_, rgb_, 1);
    cv::cvtColor(rgb_, rgb_, cv::COLOR_BGRA2RGB);
}

core::Point NetworkCrop::whole(core::Point p) const {
    return {(p.x - kNetworkSide / 2.0) / k_ + centre_.x, (p.y - kNetworkSide / 2.0) / k_ + centre_.y};
}

cv::dnn::Net network_from(const std::filesystem::path& onnx) {
    if (!std::filesystem::exists(onnx)) {
        throw core::Refused(fmt::format(
            "{}: the body-pose network is missing; run ./aspen setup once with a network connection",
            onnx.string()));
    }
    try {
        return cv::dnn::readNetFromONNX(onnx.string());
    } catch (const cv::Exception&) {
        throw core::Refused(fmt::format("{}: is no network that can be read; remove it and run ./aspen setup",
                                        onnx.string()));
    }
}

}  // namespace aspen::media
