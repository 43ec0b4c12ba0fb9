#pragma once

#include <optional>
#include <string>
#include <utility>
#include <vector>

#include "store/part.hpp"

namespace aspen::store {

/// What is in work: corrections and what was given for them.
class Work : Part {
  public:
    explicit Work(Transactions& transactions) : Part(transactions) {}

    CorrectionId add(const Correction& correction);
    void update(const Correction& correction);
    void remove(CorrectionId id);
    /// The focus first.
    std::vector<Correction> corrections(RiderId rider) const;
    /// All corrections of riders who are not in the trash.
    std::vector<Correction> all_corrections() const;
    std::optional<Correction> correction_like(const Correction& wanted) const;

    PrescriptionId add(const Prescription& prescription);
    void withdraw(PrescriptionId id, bool withdrawn);
    std::vector<Prescription> prescriptions(CorrectionId correction) const;
    /// The newest running one of each rider's focus: rider, exercise's id, until when.
    struct Running {
        RiderId rider;
        std::string fault, exercise, until;
    };
    std::vector<Running> running() const;
};

}  // namespace aspen::store
