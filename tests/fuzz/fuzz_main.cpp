// The entry of libFuzzer; GSWARM_FUZZ_TARGET says which of the targets this program feeds.
#include <cstdint>
#include <cstdlib>
#include <string>

#include "tests/fuzz/targets.h"

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    static const gswarm::fuzz::Target& target = [&]() -> const gswarm::fuzz::Target& {
        for (const auto& one : gswarm::fuzz::targets())
            if (one.name == std::string(GSWARM_FUZZ_TARGET)) return one;
        std::abort();
    }();
    target.run({reinterpret_cast<const char*>(data), size});
    return 0;
}
