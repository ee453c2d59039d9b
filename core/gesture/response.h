#pragma once
#include "core/scene/kind.h"

namespace gswarm {

enum class ResponseCurve { straight, slowStart, slowEnd, slowBoth };

/// From a raw value to the value used: invert, range to range with a curve between, clip. The same for where a gesture
/// acts and for what drives it. With the clip off, what goes over the range passes on.
struct Response {
    bool invert;
    float inLow, inHigh, outLow, outHigh;
    ResponseCurve curve;
    bool clip;
};

bool changesNothing(const Response& response);

/// Applies the response to `count` values in place (the column is valid up to the next multiple of 16) and returns how
/// many of them the clip cut. `isSigned` values invert about 0, others about ½.
int respond(const Response& response, bool isSigned, int count, float* values);

extern const Kind responseKind;

}  // namespace gswarm
