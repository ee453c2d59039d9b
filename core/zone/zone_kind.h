#pragma once
#include <span>

#include "core/base/block.h"
#include "core/base/lane_number.h"
#include "core/scene/describe.h"
#include "core/scene/rail_source.h"

namespace gswarm {

/// Most numbers that a zone's table may have.
inline constexpr int mostZoneNumbers = 12;

/// What a zone may read of the places it weighs.
struct ZoneInput {
    const void* data;           ///< the kind's struct at this frame, prepared
    const LaneNumber* numbers;  ///< in the order of the table; a moving zone under a stagger has a column for each
    const Columns3& local;      ///< places in the zone's own axes, world metres
    const Columns3& world;
    int count;     ///< a multiple of 16
    Block* block;  ///< the instances; null where places are weighed that are none
    Moment moment;
    LaneNumber offset;  ///< frames: the instance's own time minus the moment's

    template <class T>
    const T& as() const {
        return *static_cast<const T*>(data);
    }
};

using ZoneLines = std::vector<std::vector<glm::vec3>>;

/// Something to take hold of in the picture, in the zone's own axes.
struct ZoneHandle {
    const char* name;
    glm::vec3 place, along;  ///< unit direction of the drag
    const char* parameter;
    int component = -1;
    double perMetre = 1;  ///< change of the number for one metre along the drag
};

/// A weight over space: 1 in its core, 0 from its surface outward, passing between over the soft edge (metres,
/// measured inward). A moving zone in a staggered gesture has other numbers for each instance, so a zone reads its
/// numbers through lanes, in the order of its table. Nothing ever scales a zone.
struct ZoneKind : Kind {
    std::function<void(const ZoneInput&, float* weight)> weigh;
    /// Contour lines of its surface or of its core, in its own axes; empty for zones without a form.
    std::function<ZoneLines(const std::vector<double>& numbers, bool core)> outline;
    std::function<std::vector<ZoneHandle>(const std::vector<double>& numbers)> handles;
    /// Asks for what the zone reads beside its own numbers.
    std::function<void(void*, const RailSource&)> prepare;
    /// Whether weights change by time alone.
    std::function<bool(const void*)> moves;
    /// For zones that compare all instances: their places in the zone's own axes, and their numbers.
    std::function<void(void*, std::span<const glm::vec3> places, std::span<const std::uint32_t> numbers)> gather;
    /// Whether it means nothing at places that are no instances, once it is prepared; empty for zones over space. One that
    /// may mean something there reads a block whose instances stand at the places.
    std::function<bool(const void*)> instancesOnly;
    bool common = false;   ///< reached for most
    bool mayFail = false;  ///< weights may be infinite or no numbers

    int numberCount() const;
};

template <class T>
struct DescribeZone : Describe<T, ZoneKind> {
    DescribeZone(std::string id, std::string label, std::string summary)
        : Describe<T, ZoneKind>(Family::zone, std::move(id), std::move(label), std::move(summary)) {}
};

inline ZoneKind makes(ZoneKind kind, void (*weigh)(const ZoneInput&, float*)) {
    kind.weigh = weigh;
    return kind;
}
/// A zone with a form that can be drawn and taken hold of.
inline ZoneKind makes(ZoneKind kind, void (*weigh)(const ZoneInput&, float*), ZoneLines (*outline)(const std::vector<double>&, bool core),
                      std::vector<ZoneHandle> (*handles)(const std::vector<double>&)) {
    kind.weigh = weigh;
    kind.outline = outline;
    kind.handles = handles;
    return kind;
}
template <class T>
ZoneKind preparing(ZoneKind kind, void (*prepare)(T&, const RailSource&)) {
    kind.prepare = [prepare](void* data, const RailSource& source) { prepare(*static_cast<T*>(data), source); };
    return kind;
}

/// A circle about one of the axes (0 X, 1 Y, 2 Z), its middle moved along it.
std::vector<glm::vec3> circleAbout(int axis, float radius, float along = 0);
ZoneLines boxLines(const glm::vec3& half);
/// weight = the soft edge over a column of depths (metres inward from the surface).
void weighDepth(const float* depth, const LaneNumber& softEdge, int count, float* weight);

inline ZoneKind common(ZoneKind kind) {
    kind.common = true;
    return kind;
}
/// Whether it acts on instances that are chosen by hand.
inline bool takesInstances(const Kind& kind) {
    for (const Parameter& p : kind.parameters)
        if (p.type == ParameterType::instances) return true;
    return false;
}

extern const ZoneKind ballZone, boxZone, slabZone, tubeZone, coneZone, ringZone, nearCurveZone, nearMeshZone, insideMeshZone, nearSwarmZone,
    nearestZone, chosenZone, noiseZone, pictureZone, soundZone, formulaZone, everywhereZone;

}  // namespace gswarm
