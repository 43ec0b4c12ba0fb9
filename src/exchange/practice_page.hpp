#pragma once

#include <iosfwd>
#include <string>
#include <vector>

#include "core/training/going_home.hpp"

/// A rider's log on one HTML file that works on a phone without a network: counts tries and good ones, keeps
/// them on the phone, and saves the CSV that practice_log.hpp reads.
namespace aspen::exchange {

struct PracticePage {
    std::string rider;  ///< first name
    std::string id;     ///< of the exercise
    core::GoingHome home;
    std::string from_coach;            ///< the coach's name
    std::vector<std::string> lines{};  ///< for the horse, and off it
};

/// Nothing in it is fetched from anywhere.
void write_practice_page(std::ostream& out, const PracticePage& page);

}  // namespace aspen::exchange
