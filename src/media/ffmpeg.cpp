#include "media/ffmpeg.hpp"

namespace aspen::media::ff {

std::string words(int error) {
    char text[AV_ERROR_MAX_STRING_SIZE] = {};
    av_strerror(error, text, sizeof text);
    return text;
}

void quiet() { av_log_set_level(AV_LOG_QUIET); }

std::size_t bytes_of(const AVFrame& frame) {
    std::size_t out = 0;
    for (const AVBufferRef* b : frame.buf) {
        if (b) out += b->size;
    }
    return out;
}

}  // namespace aspen::media::ff
