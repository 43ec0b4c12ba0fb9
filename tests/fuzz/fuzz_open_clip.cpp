// For libFuzzer: fuzz_open_clip SEEDS... (./aspen bench runs it for five minutes).

#include "fuzz/open_clip.hpp"

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    aspen::test::open_bytes_as_clip(data, size);
    return 0;
}
