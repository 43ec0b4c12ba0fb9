#pragma once

#include <optional>
#include <vector>

#include "store/part.hpp"

namespace aspen::store {

/// The arena laid into clips: what is said of it, what was clicked of it, where the horse was, what was
/// asked.
class Grounds : Part {
  public:
    explicit Grounds(Transactions& transactions) : Part(transactions) {}

    /// One a clip: the later takes the place of the earlier.
    void put(const LaidArena& arena);
    std::optional<LaidArena> laid(ClipId clip) const;
    /// With its marks and what was asked there.
    void remove(LaidArenaId id);
    /// Clips that were filmed on this day and have an arena, the newest first.
    std::vector<ClipId> laid_on(const std::string& day) const;
    ArenaMarkId add(const ArenaMark& mark);
    void remove(ArenaMarkId id);
    /// In the order in which they were clicked.
    std::vector<ArenaMark> arena_marks(ClipId clip) const;
    AskedLineId add(const AskedLine& asked);
    void remove(AskedLineId id);
    std::vector<AskedLine> asked_lines(ClipId clip) const;
};

}  // namespace aspen::store
