#pragma once
#include <cstdint>
#include <cstring>
#include <string_view>

namespace gswarm {

/// 64-bit running hash of content, for cache keys. Equal content gives equal hashes on every machine.
/// Multiply and fold as in wyhash (Wang Yi, public domain), one word at a time.
class ContentHash {
  public:
    void add(std::uint64_t word) {
        const unsigned __int128 product = static_cast<unsigned __int128>(state_ ^ word) * 0x9E3779B97F4A7C15ull + 0x2545F4914F6CDD1Dull;
        state_ = static_cast<std::uint64_t>(product) ^ static_cast<std::uint64_t>(product >> 64);
    }
    void add(double number) {
        std::uint64_t bits = 0;
        std::memcpy(&bits, &number, sizeof bits);
        add(bits);
    }
    void add(std::string_view text) {
        add(static_cast<std::uint64_t>(text.size()));
        for (const char c : text) add(static_cast<std::uint64_t>(static_cast<unsigned char>(c)));
    }
    std::uint64_t value() const { return state_; }

  private:
    std::uint64_t state_ = 0x6A09E667F3BCC908ull;
};

}  // namespace gswarm
