#pragma once
#include <glm/vec3.hpp>
#include <memory>
#include <string>
#include <vector>

#include "core/light/panorama.h"
#include "core/scene/object_id.h"

/// Light from so far away that it comes to every place alike.
namespace gswarm {

struct Sun {
    glm::vec3 toward{0, 1, 0};  ///< unit
    glm::vec3 light{0};         ///< linear: what white paper that faces it sends back, a pi-th of its lux
    float size = 0;             ///< radians across
    ObjectId of{};              ///< the light
    ObjectId from{};            ///< the thing that it shines from, or none: `toward` has it already (provide/placing.h)

    bool operator==(const Sun&) const = default;
};

/// A floor without end, seen from above alone.
struct Ground {
    bool shown = false;
    float height = 0;
    glm::vec3 colour{0};  ///< linear

    bool operator==(const Ground&) const = default;
};

enum class SurroundingsPicture { softBoxes, harbour, morning, file };

struct Surroundings {
    SurroundingsPicture which = SurroundingsPicture::softBoxes;
    std::string file;    ///< in the project's folder
    glm::vec3 light{1};  ///< factor of what the picture has
    float around = 0;    ///< radians about +Y
    /// None until it was read (provide/picture_files.h), and where it can't be: it gives no light then.
    std::shared_ptr<const Panorama> picture;
    ObjectId of{};  ///< the light

    /// Linear light from a direction, unit.
    glm::vec3 from(const glm::vec3& direction) const;
    bool operator==(const Surroundings&) const = default;
};

/// All of it that a scene has, added up.
struct FarLight {
    std::vector<Sun> suns;
    glm::vec3 zenith{0}, horizon{0};  ///< linear, of all skies together
    Ground ground;
    std::vector<Surroundings> surroundings;

    bool operator==(const FarLight&) const = default;
};

/// Unit vector from two angles in radians: above the horizon, and around from the front (+Z) to +X.
glm::vec3 towardSun(float height, float around);
/// A direction as the picture has it, whose turn about +Y is undone.
glm::vec3 turnedBack(const glm::vec3& direction, float around);
/// Linear light of the skies in a direction, unit, without suns and surroundings.
glm::vec3 skyFrom(const FarLight& light, const glm::vec3& direction);

}  // namespace gswarm
