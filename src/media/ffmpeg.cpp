#include "media/ffmpeg.hpp"

namespace aspen::media::ff {

std::string words(int error) {
    char text[AV_ERROR_MAX_STRING_SIZE] = {};
    av_strerror(error, text, sizeof text);
    return text;
}

void quiet() { av_log_set_level(AV_LOG_QUIET); }

}  // namespace aspen::media::ff
