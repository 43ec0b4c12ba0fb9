#pragma once

/// Steps that stand in a file of their own. Internal to store.
namespace aspen::store {

extern const char* const kEleventh;
extern const char* const kTwelfth;
extern const char* const kThirteenth;
extern const char* const kFourteenth;
extern const char* const kFifteenth;
extern const char* const kSixteenth;
extern const char* const kSeventeenth;

}  // namespace aspen::store
