#include "media/reading/previews.hpp"

#include <cstdint>
#include <fstream>

namespace aspen::media {
namespace {

constexpr std::uint32_t kMagic = 0x41435031;  // "ACP1"
constexpr std::uint32_t kMostJpegBytes = 8u << 20;

void put_number(std::ostream& out, std::uint32_t v) {
    out.write(reinterpret_cast<const char*>(&v), sizeof v);
}
std::uint32_t get_number(std::istream& in) {
    std::uint32_t v = 0;
    in.read(reinterpret_cast<char*>(&v), sizeof v);
    return in ? v : 0;
}

}  // namespace

Previews::Previews(int frames)
    : stride_(std::max(1, (frames + kMost - 1) / kMost)),
      jpegs_(static_cast<std::size_t>((frames + stride_ - 1) / stride_)) {}

void Previews::put(int frame, std::string jpeg) {
    const auto at = static_cast<std::size_t>(frame / stride_);
    const std::lock_guard lock(mutex_);
    if (at >= jpegs_.size() || jpegs_[at]) return;
    bytes_ += jpeg.size();
    jpegs_[at] = std::make_shared<const std::string>(std::move(jpeg));
    ++made_;
}

std::optional<Previews::Hit> Previews::near(int frame) const {
    const std::lock_guard lock(mutex_);
    if (jpegs_.empty()) return std::nullopt;
    const auto at =
        std::min<std::size_t>(static_cast<std::size_t>((frame + stride_ / 2) / stride_), jpegs_.size() - 1);
    if (!jpegs_[at]) return std::nullopt;
    return Hit{static_cast<int>(at) * stride_, jpegs_[at]};
}

int Previews::made() const {
    const std::lock_guard lock(mutex_);
    return made_;
}

std::size_t Previews::bytes() const {
    const std::lock_guard lock(mutex_);
    return bytes_;
}

bool Previews::load(const std::filesystem::path& file) {
    std::ifstream in(file, std::ios::binary);
    if (!in || get_number(in) != kMagic || get_number(in) != jpegs_.size() ||
        get_number(in) != static_cast<std::uint32_t>(stride_))
        return false;
    std::vector<std::string> all;
    for (std::size_t i = 0; i < jpegs_.size(); ++i) {
        const std::uint32_t size = get_number(in);
        if (!in || size > kMostJpegBytes) return false;
        std::string jpeg(size, '\0');
        in.read(jpeg.data(), size);
        if (!in) return false;
        all.push_back(std::move(jpeg));
    }
    for (std::size_t i = 0; i < all.size(); ++i) {
        if (!all[i].empty()) put(static_cast<int>(i) * stride_, std::move(all[i]));
    }
    return made() > 0;
}

void Previews::save(const std::filesystem::path& file) const {
    auto part = file;
    part += ".part";
    std::error_code error;
    std::filesystem::create_directories(file.parent_path(), error);
    std::ofstream out(part, std::ios::binary);
    {
        const std::lock_guard lock(mutex_);
        for (const std::uint32_t v :
             {kMagic, static_cast<std::uint32_t>(jpegs_.size()), static_cast<std::uint32_t>(stride_)})
            put_number(out, v);
        for (const Jpeg& j : jpegs_) {
            put_number(out, j ? static_cast<std::uint32_t>(j->size()) : 0);
            if (j) out.write(j->data(), static_cast<std::streamsize>(j->size()));
        }
    }
    out.close();
    if (out) std::filesystem::rename(part, file, error);
    if (!out || error) std::filesystem::remove(part, error);
}

PreviewMaker::PreviewMaker(const ClipSource& source, const PacketStore& packets, const FrameOrder& order,
                           Previews& into)
    : source_(source), packets_(packets), order_(order), into_(into), decoder_(source, packets) {}

void PreviewMaker::take() {
    while (const AVFrame* frame = decoder_.receive()) {
        const int n = order_.settled ? counted_++ : order_.frame_of(static_cast<int>(frame->pts));
        if (n < 0 || n >= order_.count() || !into_.wants(n)) continue;
        into_.put(n, writer_.write(maker_.make(*frame, source_.display(), Previews::kWidth, Previews::kHeight,
                                               Quality::quick)));
    }
}

bool PreviewMaker::advance() {
    const long before = ff::complaints();
    const bool more = next_ < packets_.count();
    if (more)
        decoder_.send(next_++);
    else
        decoder_.drain();
    take();
    complained_ = complained_ || ff::complaints() != before;
    return more;
}

}  // namespace aspen::media
