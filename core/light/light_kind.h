#pragma once
#include <functional>
#include <glm/geometric.hpp>
#include <glm/mat3x3.hpp>
#include <numbers>
#include <vector>

#include "core/light/far_light.h"
#include "core/scene/describe.h"

namespace gswarm {

enum class LampForm { point, spot, rectangle, disc };

/// A light that stands somewhere in the world. It shines along its own −Y: without a turn, down.
struct Lamp {
    ObjectId of;  ///< the light, or the swarm that repeats it
    LampForm form = LampForm::point;
    glm::vec3 light{0};  ///< linear; candela of a point or spot, nits of a rectangle or disc
    glm::vec3 position{0};
    glm::vec3 along{0, -1, 0}, side{1, 0, 0};  ///< unit vectors: where it shines, and along its width
    float radius = 0;                          ///< metres, of a point's or spot's ball and of a disc
    float width = 0, depth = 0;                ///< metres, of a rectangle
    float cosineFull = 1, cosineNone = 0;      ///< of a spot: inside the first all of its light, outside the second none
    bool bothSides = false;                    ///< of a rectangle or disc
    float reach = 0;                           ///< metres beyond which it is cut off; 0 for never

    bool operator==(const Lamp&) const = default;
};

/// From the lamp's own axes to the world's.
inline glm::mat3 turnOf(const Lamp& lamp) { return {lamp.side, -lamp.along, glm::cross(lamp.side, -lamp.along)}; }

inline bool isFlat(const Lamp& lamp) { return lamp.form == LampForm::rectangle || lamp.form == LampForm::disc; }
/// That a flat lamp shines from, square metres.
inline float areaOf(const Lamp& lamp) {
    return lamp.form == LampForm::disc ? std::numbers::pi_v<float> * lamp.radius * lamp.radius : lamp.width * lamp.depth;
}
/// Candela along its middle from afar.
inline glm::vec3 intensityOf(const Lamp& lamp) { return isFlat(lamp) ? lamp.light * areaOf(lamp) : lamp.light; }

/// How far a spot's cone is drawn, metres.
inline constexpr float lampConeLength = 2;

/// A lamp as its table has it, before it hangs and aims.
struct LampSetting {
    bool on = true;
    Lamp lamp;
    glm::vec3 rotation{0};  ///< turns about X, then Y, then Z
    ObjectId aim;           ///< the thing it shines at, or none
};

/// Where a number of a lamp is dragged: places and directions in the lamp's own metres.
struct LampHandle {
    std::string name, parameter;
    glm::vec3 place, along;
    double perMetre = 1;  ///< change of the number for one metre
};

struct LightKind : Kind {
    /// It comes softly from everywhere: of these one is enough, and a new one takes the place of those that are there.
    bool fromEverywhere = false;
    /// Adds what it gives; empty for lamps.
    std::function<void(const void*, FarLight& all)> far;
    /// Empty for light from far away.
    std::function<LampSetting(const void*)> lamp;
    /// Of its sizes; empty for light from far away.
    std::function<std::vector<LampHandle>(const void*)> handles;
};

template <class T>
struct DescribeLight : Describe<T, LightKind> {
    DescribeLight(std::string id, std::string label, std::string summary)
        : Describe<T, LightKind>(Family::light, std::move(id), std::move(label), std::move(summary)) {}

    /// What every lamp has: T has `on`, `position`, `colour` and `strength`; what is turned has `rotation` and `aim` too.
    DescribeLight& lamp(const char* strength, const char* unit, double standard, Range range) {
        this->toggle("on", &T::on, true, "A light that is off gives none");
        this->length("position", &T::position, {0, 4, 0}, {-10, 10}, "Where it is, or from what it hangs from");
        this->colour("colour", &T::colour, {1, 0.92, 0.8, 1}, "Colour of its light").opaque();
        this->number("strength", &T::strength, standard, range, strength).unit(unit).hard(0, 1e9);
        return *this;
    }
    DescribeLight& turned() {
        this->angle("rotation", &T::rotation, {0, 0, 0}, {-180, 180}, "Turns about X, then Y, then Z; without one it shines down");
        this->reference("aim", &T::aim, {ObjectType::mount, ObjectType::swarm, ObjectType::zone, ObjectType::camera},
                        "Shines at this instead, wherever it is")
            .optional();
        return *this;
    }
};

template <class T>
LightKind lamp(Describe<T, LightKind>& described, LampSetting (*make)(const T&), std::vector<LampHandle> (*handles)(const T&)) {
    LightKind kind = described.kind();
    kind.lamp = [make](const void* data) { return make(*static_cast<const T*>(data)); };
    kind.handles = [handles](const void* data) { return handles(*static_cast<const T*>(data)); };
    return kind;
}

/// A kind whose `strength` is that of its light.
template <class T>
LightKind farLight(Describe<T, LightKind>& described, void (*shine)(const T&, FarLight& all)) {
    LightKind kind = described.kind();
    kind.far = [shine](const void* data, FarLight& all) { shine(*static_cast<const T*>(data), all); };
    return kind;
}
inline LightKind fromEverywhere(LightKind kind) {
    kind.fromEverywhere = true;
    return kind;
}

/// The outline of a lamp in its own metres: of what shines, and how far a cone goes or the reach is.
std::vector<std::vector<glm::vec3>> outlineOf(const Lamp& lamp);

extern const LightKind sunLight, skyLight, surroundingsLight, pointLight, spotLight, areaLight;

}  // namespace gswarm
