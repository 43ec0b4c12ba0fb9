#include "media/pose/grey_pictures.hpp"

#include "media/pose/flow_step.hpp"

namespace aspen::media::flow {

cv::Mat GreyPictures::at(int frame) {
    if (const auto here = kept_.find(frame); here != kept_.end()) return here->second;
    const cv::Mat grey = grey_of(reader_.picture(frame, width_, height_));
    const auto bytes_of = [](const cv::Mat& m) { return m.total() * m.elemSize(); };
    kept_[frame] = grey;
    order_.push_back(frame);
    held_ += bytes_of(grey);
    while (order_.size() > 1 && held_ > keep_) {
        held_ -= bytes_of(kept_.at(order_.front()));
        kept_.erase(order_.front());
        order_.pop_front();
    }
    return grey;
}

}  // namespace aspen::media::flow
