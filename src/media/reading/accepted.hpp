#pragma once

#include <string_view>

/// What a clip may be: the containers and codecs that phones, cameras and editors write, and nothing else of
/// what the libraries could read. Lists by commas, in FFmpeg's own names; docs/formats.md has them in words.
/// Left out on purpose is whatever names other files or addresses (play lists, manifests, session
/// descriptions), runs instructions (drawings, subtitles, tracker music) or reads devices.
namespace aspen::media {

inline constexpr const char* kContainers =
    "mov,mp4,m4a,3gp,3g2,mj2,matroska,webm,avi,mpegts,mpeg,mpegvideo,h264,hevc,m4v,mjpeg,flv,asf,ogg,dv,mxf,"
    "gif,apng,jpeg_pipe,png_pipe,webp_pipe,bmp_pipe,tiff_pipe";

/// Decoders of pictures.
inline constexpr const char* kPictureCodecs =
    "h264,hevc,av1,libdav1d,libaom-av1,vp8,vp9,libvpx,libvpx-vp9,mpeg4,mpeg2video,mpeg1video,msmpeg4v1,"
    "msmpeg4v2,msmpeg4,wmv1,wmv2,wmv3,vc1,h263,flv,theora,mjpeg,huffyuv,ffvhuff,ffv1,utvideo,prores,dnxhd,"
    "cfhd,"
    "dvvideo,rawvideo,gif,apng,png,webp,bmp,tiff";

/// Decoders of sound.
inline constexpr const char* kSoundCodecs =
    "aac,mp3,mp3float,mp2,mp2float,ac3,eac3,opus,libopus,vorbis,flac,alac,amrnb,amrwb,wmav1,wmav2,adpcm_ms,"
    "adpcm_ima_wav,adpcm_ima_qt,pcm_s16le,pcm_s16be,pcm_s24le,pcm_s24be,pcm_s32le,pcm_f32le,pcm_f32be,pcm_u8,"
    "pcm_s8,pcm_alaw,pcm_mulaw,pcm_bluray,pcm_dvd";

/// Whether a name stands in such a list.
constexpr bool is_among(std::string_view list, std::string_view name) {
    while (!list.empty()) {
        const auto comma = list.find(',');
        if (list.substr(0, comma) == name) return true;
        if (comma == std::string_view::npos) return false;
        list.remove_prefix(comma + 1);
    }
    return false;
}

}  // namespace aspen::media
