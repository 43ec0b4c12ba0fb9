#include "store/transactions.hpp"

#include "store/statement.hpp"

namespace aspen::store {
void Transactions::within(const std::function<void()>& work) {
    if (depth_ > 0) return work();
    try {
        SQLite::Transaction transaction(database_.raw());
        ++depth_;
        try {
            work();
        } catch (...) {
            --depth_;
            throw;
        }
        --depth_;
        transaction.commit();
    } catch (const SQLite::Exception& e) {
        refuse(e);
    }
}

}  // namespace aspen::store
