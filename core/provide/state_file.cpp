#include "core/provide/state_file.h"

namespace gswarm {
namespace {

template <class T>
void put(std::ostream& to, const T& value) {
    to.write(reinterpret_cast<const char*>(&value), sizeof value);
}
template <class T>
T taken(std::istream& from) {
    T value{};
    from.read(reinterpret_cast<char*>(&value), sizeof value);
    return value;
}

template <class Vector>
void putAll(std::ostream& to, const Vector& values) {
    put(to, static_cast<std::uint64_t>(values.size()));
    to.write(reinterpret_cast<const char*>(values.data()), static_cast<std::streamsize>(values.size() * sizeof values[0]));
}
template <class Vector>
bool takeAll(std::istream& from, std::uint64_t bytes, Vector& values) {
    const auto size = taken<std::uint64_t>(from);
    if (!from || size > bytes / sizeof values[0]) return false;
    values.resize(size);
    from.read(reinterpret_cast<char*>(values.data()), static_cast<std::streamsize>(size * sizeof values[0]));
    return static_cast<bool>(from);
}

}  // namespace

void writeState(const MemoryState& state, std::ostream& to) {
    put(to, state.frame);
    put(to, state.count);
    put(to, state.homes);
    put(to, static_cast<std::uint64_t>(state.cards.size()));
    for (const auto& card : state.cards) {
        put(to, static_cast<std::uint64_t>(card.size()));
        for (const auto& column : card) putAll(to, column);
    }
    put(to, static_cast<std::uint64_t>(state.loose.size()));
    for (const auto& loose : state.loose) putAll(to, loose);
}

std::shared_ptr<const MemoryState> readState(std::istream& from, std::uint64_t bytes) {
    auto state = std::make_shared<MemoryState>();
    state->frame = taken<double>(from);
    state->count = taken<int>(from);
    state->homes = taken<std::uint64_t>(from);
    const auto cards = taken<std::uint64_t>(from);
    if (!from || state->count < 0 || cards > bytes) return nullptr;
    const auto padded = (static_cast<std::size_t>(state->count) + 15) & ~std::size_t{15};
    state->cards.resize(cards);
    for (auto& card : state->cards) {
        const auto columns = taken<std::uint64_t>(from);
        if (!from || columns > bytes) return nullptr;
        card.resize(columns);
        for (auto& column : card)
            if (!takeAll(from, bytes, column) || (!column.empty() && column.size() != padded)) return nullptr;
    }
    const auto loose = taken<std::uint64_t>(from);
    if (!from || loose != cards) return nullptr;
    state->loose.resize(loose);
    for (auto& one : state->loose)
        if (!takeAll(from, bytes, one)) return nullptr;
    return state;
}

}  // namespace gswarm
