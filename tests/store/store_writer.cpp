// Adds moments with joints, one transaction each, and prints the id of each that is committed, until it is
// killed.

#include <cstdio>

#include "store/yard_store.hpp"

int main(int argc, char** argv) {
    using namespace aspen;
    if (argc < 2) return 2;
    store::YardStore yard(argv[1]);
    store::Clip clip;
    clip.path = "a.mp4";
    clip.hash = "aa";
    clip.bytes = 1;
    clip.id = yard.add(clip);
    for (int frame = 0;; ++frame) {
        store::Moment m;
        m.clip = clip.id;
        m.frame = frame;
        for (const core::Landmark l : core::landmarks_of(core::View::side))
            m.figure[l] = {{frame * 1.0, 2.0}, core::Visibility::seen, 1.0};
        yard.add(m);
        std::printf("%d\n", frame);
        std::fflush(stdout);
    }
}
