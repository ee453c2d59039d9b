#include "app/sound/simulated_loudspeaker.h"

#include <cmath>

bool SimulatedLoudspeaker::start(const Pull& pull) {
    pull_ = pull;
    taken_ = 0, owed_ = 0;
    return true;
}

void SimulatedLoudspeaker::pass(double seconds) {
    if (!pull_) return;
    owed_ += seconds * rate_;
    const auto count = static_cast<std::int64_t>(std::floor(owed_));
    owed_ -= static_cast<double>(count);
    last_.assign(static_cast<std::size_t>(2 * count), 0.0f);
    pull_(last_.data(), count);
    taken_ += count;
}
