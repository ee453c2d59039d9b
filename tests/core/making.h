#pragma once
#include <filesystem>
#include <functional>
#include <map>
#include <memory>
#include <string>
#include <vector>

#include "core/edit/edit.h"
#include "core/edit/gesture_starts.h"
#include "core/evaluate/evaluator.h"
#include "core/read/table.h"

/// Scenes built in a few words, and their instances.
namespace gswarm::making {

#ifdef __SANITIZE_ADDRESS__
inline constexpr bool sanitized = true;
#else
inline constexpr bool sanitized = false;
#endif

/// One swarm under construction. Every call is an edit like those of the window.
struct Build {
    Scene scene;
    ObjectId swarm, formation, shape, stock, material;

    Build();
    ObjectId sun() const { return scene.named(ObjectType::light, "Sun"); }
    ObjectId sky() const { return scene.named(ObjectType::light, "Sky"); }
    /// A grid of nx × ny × nz, one metre apart.
    static Build grid(int nx, int ny, int nz);

    Build& set(ObjectId object, const std::string& parameter, const Value& value);
    Build& set(ObjectId object, const std::string& parameter, std::initializer_list<double> numbers);
    Build& key(ObjectId object, const std::string& parameter, std::vector<Key> keys, int component = 0);
    /// The same with something added, such as media.
    Build with(Edit (*add)(const Scene&, const Kind&), const Kind& kind) const {
        Build made = *this;
        made.scene = add(scene, kind).scene;
        return made;
    }
    Build& formationKind(const std::string& kind);
    /// The formation stands on a new shape of the kind, which is returned.
    ObjectId standOn(const std::string& formationKind, const std::string& shapeKind);
    Build& choose(ObjectId object, const std::string& parameter, const std::string& choice) {
        return set(object, parameter, Value(choice));
    }
    /// A gesture that changes nothing yet, with the pattern.
    ObjectId gesture(const std::string& pattern = "steady");
    ObjectId zone(ObjectId gesture, const std::string& kind);

    Plan plan(double frame = 0, const std::filesystem::path& folder = {}) const;
    std::vector<InstanceRow> rows(double frame = 0) const;
    std::shared_ptr<const Result> result(double frame = 0, int threads = 2) const;
};

/// For what needs one and does not share it with an evaluator.
Store& store();

/// Whether FFmpeg's own program is there, which makes what is read.
bool hasFfmpeg();

/// The processes of that name that this one has started and that run.
std::vector<int> children(const std::string& name);
/// Ends them at once, and says how many there were.
int endChildren(const std::string& name);

/// A folder of this process alone, gone when it ends.
const std::filesystem::path& temporaryFolder();

/// Places by id; a test failure if an id stands twice.
std::map<std::uint64_t, glm::vec3> byId(const std::vector<InstanceRow>& rows);
inline constexpr float degree = 3.14159265f / 180;
void expectNear(const glm::vec3& a, const glm::vec3& b, float tolerance = 1e-5f);
/// Where an instance's own +Y points.
glm::vec3 up(const InstanceRow& row);

}  // namespace gswarm::making
