#include "media/reading/ffmpeg.hpp"

#include <atomic>
#include <string_view>

namespace aspen::media::ff {
namespace {

std::atomic<long> heard{0};

void listen(void*, int level, const char* format, va_list) {
    const bool concealed = std::string_view(format).starts_with("concealing");
    if (level <= AV_LOG_ERROR || concealed) ++heard;
}

}  // namespace

std::string words(int error) {
    char text[AV_ERROR_MAX_STRING_SIZE] = {};
    av_strerror(error, text, sizeof text);
    return text;
}

void quiet() { av_log_set_callback(&listen); }
long complaints() { return heard; }

std::size_t bytes_of(const AVFrame& frame) {
    std::size_t out = 0;
    for (const AVBufferRef* b : frame.buf) {
        if (b) out += b->size;
    }
    return out;
}

}  // namespace aspen::media::ff
