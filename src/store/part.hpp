#pragma once

#include "store/records.hpp"
#include "store/transactions.hpp"

namespace aspen::store {

/// What every part of the records stands on. Reading is const and needs no transaction; each writing call is
/// one of its own unless it is made within another.
class Part {
  protected:
    explicit Part(Transactions& transactions)
        : transactions_(transactions), database_(transactions.database()) {}
    void within(const std::function<void()>& work) { transactions_.within(work); }
    Transactions& transactions_;
    Database& database_;
};

}  // namespace aspen::store
