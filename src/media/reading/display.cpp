#include "media/reading/display.hpp"

#include <algorithm>
#include <array>
#include <cmath>

extern "C" {
#include <libavutil/display.h>
}

namespace aspen::media {
namespace {

int sign_of(std::int32_t entry) { return std::abs(entry) < 32768 ? 0 : entry > 0 ? 1 : -1; }

}  // namespace

Display::Display(const AVStream& stream, const AVCodecParameters& stored)
    : wide_(stored.width), stored_height_(stored.height) {
    const AVRational shape = av_guess_sample_aspect_ratio(nullptr, const_cast<AVStream*>(&stream), nullptr);
    if (shape.num > 0 && shape.den > 0) {
        const double stretch = av_q2d(shape);
        if (stretch > 0.1 && stretch < 10)
            wide_ = std::max(1, static_cast<int>(std::lround(stored.width * stretch)));
    }
    std::size_t size = 0;
    const auto* side = av_stream_get_side_data(&stream, AV_PKT_DATA_DISPLAYMATRIX, &size);
    if (!side || size < 9 * sizeof(std::int32_t)) return;
    const auto* matrix = reinterpret_cast<const std::int32_t*>(side);
    const int a = sign_of(matrix[0]), b = sign_of(matrix[1]), c = sign_of(matrix[3]), d = sign_of(matrix[4]);
    if (a * d - b * c == 0) return;  // not a turn by a quarter: shown as stored
    a_ = a, b_ = b, c_ = c, d_ = d;
    const double turn = av_display_rotation_get(matrix);
    if (std::isfinite(turn)) rotation_deg_ = (static_cast<int>(std::lround(-turn)) % 360 + 360) % 360;
}

void Display::held_as(int orientation) {
    if (orientation < 2 || orientation > 8) return;
    struct Turn {
        int a, b, c, d, clockwise_deg;
    };
    static constexpr std::array<Turn, 9> kTurns{
        {{1, 0, 0, 1, 0},
         {1, 0, 0, 1, 0},
         {-1, 0, 0, 1, 0},      // mirrored left to right
         {-1, 0, 0, -1, 180},   // upside down
         {1, 0, 0, -1, 180},    // mirrored top to bottom
         {0, 1, 1, 0, 90},      // mirrored over the diagonal
         {0, 1, -1, 0, 90},     // turned left: shown a quarter to the right
         {0, -1, -1, 0, 270},   // mirrored over the other diagonal
         {0, -1, 1, 0, 270}}};  // turned right
    const Turn& t = kTurns[static_cast<std::size_t>(orientation)];
    a_ = t.a, b_ = t.b, c_ = t.c, d_ = t.d, rotation_deg_ = t.clockwise_deg;
}

Picture Display::turned(Picture flat) const {
    if (a_ == 1 && d_ == 1) return flat;
    Picture out;
    out.width = swaps() ? flat.height : flat.width;
    out.height = swaps() ? flat.width : flat.height;
    out.bgra.resize(flat.bgra.size());
    const auto* from = reinterpret_cast<const std::uint32_t*>(flat.bgra.data());
    auto* to = reinterpret_cast<std::uint32_t*>(out.bgra.data());
    const int x_offset = a_ + c_ < 0 ? out.width - 1 : 0;
    const int y_offset = b_ + d_ < 0 ? out.height - 1 : 0;
    for (int y = 0; y < flat.height; ++y) {
        for (int x = 0; x < flat.width; ++x) {
            const int tx = a_ * x + c_ * y + x_offset;
            const int ty = b_ * x + d_ * y + y_offset;
            to[static_cast<std::size_t>(ty) * out.width + tx] =
                from[static_cast<std::size_t>(y) * flat.width + x];
        }
    }
    return out;
}

double Display::fitting(int max_width, int max_height) const {
    if (max_width <= 0 || max_height <= 0) return 1;
    return std::min(
        {1.0, static_cast<double>(max_width) / width(), static_cast<double>(max_height) / height()});
}

}  // namespace aspen::media
