#pragma once

#include <map>
#include <set>
#include <stdexcept>
#include <string>
#include <vector>

namespace aspen::cli {

struct WrongUsage : std::runtime_error {
    using std::runtime_error::runtime_error;
};

/// Arguments after the verb, split into plain ones, flags and options with a value. Throws WrongUsage.
struct Options {
    std::vector<std::string> plain;
    std::set<std::string> flags;
    std::map<std::string, std::string> values;

    bool flag(const std::string& name) const { return flags.contains(name); }
    std::string value(const std::string& name) const {
        const auto it = values.find(name);
        return it == values.end() ? std::string() : it->second;
    }
};

inline Options parse(const std::vector<std::string>& arguments, const std::set<std::string>& flags,
                     const std::set<std::string>& with_value, std::size_t plain_wanted) {
    Options out;
    for (std::size_t i = 0; i < arguments.size(); ++i) {
        const std::string& a = arguments[i];
        if (flags.contains(a)) {
            out.flags.insert(a);
        } else if (with_value.contains(a)) {
            if (i + 1 == arguments.size()) throw WrongUsage(a + " needs a value");
            out.values[a] = arguments[++i];
        } else if (a.size() > 1 && a[0] == '-') {
            throw WrongUsage("unknown option " + a);
        } else {
            out.plain.push_back(a);
        }
    }
    if (out.plain.size() != plain_wanted)
        throw WrongUsage("expected " + std::to_string(plain_wanted) + " argument(s), got " +
                         std::to_string(out.plain.size()));
    return out;
}

}  // namespace aspen::cli
