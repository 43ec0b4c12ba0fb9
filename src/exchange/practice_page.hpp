#pragma once

#include <iosfwd>
#include <string>
#include <vector>

#include "core/training/exercises.hpp"

/// A rider's log on one HTML file that works on a phone without a network: counts tries and good ones, keeps
/// them on the phone, and saves the CSV that practice_log.hpp reads.
namespace aspen::exchange {

struct PracticePage {
    std::string rider;  ///< first name
    const core::Exercise* exercise = nullptr;
    int rung = 0;            ///< where the rider stands
    std::string from_coach;  ///< the coach's name
};

/// Nothing in it is fetched from anywhere.
void write_practice_page(std::ostream& out, const PracticePage& page);

}  // namespace aspen::exchange
