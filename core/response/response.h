#pragma once
#include "core/scene/kind.h"

namespace gswarm {

enum class ResponseCurve { straight, slowStart, slowEnd, slowBoth, drawn };

/// A drawn curve as kernels read it: cubic pieces value = c0 + s (c1 + s (c2 + s c3)) with s beyond `at`.
struct CurveTable {
    struct Piece {
        float at, c0, c1, c2, c3;
    };
    int count = 0;
    Piece piece[mostCurvePoints + 2] = {};  ///< the first also serves what lies before it
};
CurveTable tableOf(const CurvePoints& points);

/// From a raw value to the value used: normalise over the swarm, invert, range to range with a curve between, steps,
/// clip. The same for where a gesture acts and for what drives it. With the clip off, what goes over the range passes on.
struct Response {
    bool normalise, invert;
    float inLow, inHigh, outLow, outHigh;
    ResponseCurve curve;
    CurvePoints points;
    int steps;
    bool clip;

    // Prepared.
    float least = 0, most = 1;  ///< of the raw values over the whole swarm, where it normalises
    CurveTable table;
};

bool changesNothing(const Response& response);

/// Applies the response to `count` values in place (the column is valid up to the next multiple of 16) and returns how
/// many of them the clip cut. `isSigned` values invert about 0, others about ½.
int respond(const Response& response, bool isSigned, int count, float* values);
/// One value, as the curve of the window shows it: the same numbers.
float respondOne(const Response& response, bool isSigned, float value);

extern const Kind responseKind;

}  // namespace gswarm
