#pragma once
#include <optional>
#include <string>
#include <vector>

#include "core/edit/edit.h"
#include "core/flow/result.h"

namespace gswarm {

/// Why a card acts on nothing, or nothing of it is seen: one sentence naming the culprit, and an edit that mends it.
struct Why {
    std::string reason;
    std::string mendLabel;  ///< empty where only the user can decide
    std::optional<Edit> mend;
    bool unsolo = false;   ///< the mend is to end the solo, which is not part of the scene
    bool passing = false;  ///< what stands in the way may move: acting_frame.h finds a frame at which the card acts
};

/// Empty if the card acts and is seen. `solo` is the soloed rail entry or none.
std::optional<Why> whyNothing(const Scene& scene, const Result& result, ObjectId railEntry, ObjectId solo);

}  // namespace gswarm
