#pragma once
#include <cstdint>
#include <string>

#include "core/base/content_hash.h"
#include "core/base/error.h"

namespace gswarm {

/// Under what something made of a file's content is kept.
inline std::uint64_t keyOf(const char* what, std::uint64_t content, std::uint64_t number = 0) {
    ContentHash key;
    key.add(what);
    key.add(content);
    key.add(number);
    return key.value();
}

/// What `work` gives; an error tells by name which object it comes from.
template <class Work>
auto named(const std::string& name, const Work& work) {
    try {
        return work();
    } catch (const Error& error) {
        throw Error("“" + name + "”: " + error.what());
    }
}

}  // namespace gswarm
