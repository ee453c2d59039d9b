#include "core/scene/chosen_ids.h"

#include <algorithm>
#include <charconv>

#include "core/base/error.h"

namespace gswarm {

std::string chosenText(std::vector<std::uint64_t> ids) {
    std::sort(ids.begin(), ids.end());
    ids.erase(std::unique(ids.begin(), ids.end()), ids.end());
    std::string text;
    for (const std::uint64_t id : ids) text += (text.empty() ? "" : " ") + std::to_string(id);
    return text;
}

std::vector<std::uint64_t> chosenIds(std::string_view text) {
    std::vector<std::uint64_t> ids;
    const char* at = text.data();
    const char* const end = at + text.size();
    while (at < end) {
        if (*at == ' ') {
            ++at;
            continue;
        }
        std::uint64_t id = 0;
        const auto [next, error] = std::from_chars(at, end, id);
        if (error != std::errc()) throw Error("The list of chosen instances holds something that is no id; choose the instances again.");
        ids.push_back(id);
        at = next;
    }
    std::sort(ids.begin(), ids.end());
    return ids;
}

}  // namespace gswarm
