#pragma once

#include <cstdint>
#include <vector>

namespace aspen::media {

/// A picture as it is shown: blue, green, red, alpha bytes, rows from the top without padding, alpha 255.
struct Picture {
    int width = 0;
    int height = 0;
    std::vector<std::uint8_t> bgra;

    bool empty() const { return bgra.empty(); }
    const std::uint8_t* pixel(int x, int y) const {
        return &bgra[(static_cast<std::size_t>(y) * width + x) * 4];
    }
};

}  // namespace aspen::media
