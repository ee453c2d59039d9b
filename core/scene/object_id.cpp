#include "core/scene/object_id.h"

#include <random>

namespace gswarm {
namespace {

constexpr std::string_view digits = "0123456789abcdefghjkmnpqrstvwxyz";  // Crockford's base 32: no i, l, o, u
constexpr std::string_view letters = "phsfkrgzwlcnmotyiae";
constexpr int digitCount = 11;

}  // namespace

ObjectId newObjectId(ObjectType type) {
    static thread_local std::random_device source;
    const std::uint64_t random = (static_cast<std::uint64_t>(source()) << 32) | source();
    return {static_cast<std::uint64_t>(type) << 56 | random >> 9};
}

std::string toText(ObjectId id) {
    if (!id) return {};
    std::string text(digitCount + 1, static_cast<char>(id.type()));
    for (int i = 0; i < digitCount; ++i) text[digitCount - i] = digits[id.bits >> (5 * i) & 31];
    return text;
}

ObjectId parseObjectId(std::string_view text) {
    if (text.size() != digitCount + 1 || letters.find(text[0]) == std::string_view::npos) return {};
    std::uint64_t bits = 0;
    for (const char c : text.substr(1)) {
        const auto digit = digits.find(c);
        if (digit == std::string_view::npos) return {};
        bits = bits << 5 | digit;
    }
    return {static_cast<std::uint64_t>(text[0]) << 56 | bits};
}

}  // namespace gswarm
