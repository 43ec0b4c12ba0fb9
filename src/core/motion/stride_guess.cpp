#include "core/motion/stride_guess.hpp"

#include <cmath>
#include <vector>

namespace aspen::core {

double stride_guess_s(std::span<const NamedInstant> named, const std::string& phase, Gait gait) {
    const double tempo = typical_tempo_per_min(gait);
    if (tempo <= 0) return 0;
    const double typical = 60 / tempo;
    double best = typical, off = 1e9;
    for (const NamedInstant& a : named) {
        for (const NamedInstant& b : named) {
            const double apart = b.real_s - a.real_s;
            if (a.phase != phase || b.phase != phase || apart < 0.6 * typical || apart > 1.7 * typical)
                continue;
            if (std::abs(apart - typical) < off) off = std::abs(apart - typical), best = apart;
        }
    }
    return best;
}

}  // namespace aspen::core
