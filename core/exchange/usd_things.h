#pragma once
#include <memory>

#include "core/exchange/exporter_kind.h"
#include "core/exchange/shown_apart.h"
#include "core/exchange/usd_pictures.h"
#include "core/exchange/usd_text.h"

/// The prims of a scene: what each of their attributes is at any frame.
namespace gswarm::usd {

/// What is known of the frame that was asked for last: attributes of one frame are asked for one after the other.
class FrameNow {
  public:
    /// `later` is added to every frame, so that a stage of one frame can be of a moment between two.
    /// `pictures` gathers those of materials.
    FrameNow(const ExportFrames& frames, double later, Pictures& pictures, Progress& progress)
        : frames_(frames), later_(later), pictures_(pictures), progress_(progress) {
        apart_.meetAll(frames, later, progress);
    }

    /// With placements; held until another frame is asked for.
    const Result& result(ObjectId swarm, int frame) { return *held(swarm, frame); }
    std::shared_ptr<const Result> held(ObjectId swarm, int frame);
    const Setting& setting(int frame);
    /// The lamps of the scene, then those that swarms repeat.
    const std::vector<Lamp>& lamps(int frame);
    Camera camera(ObjectId camera, int frame);
    double moment(int frame) const { return frame + later_; }
    const ExportFrames& frames() const { return frames_; }
    Pictures& pictures() const { return pictures_; }

  private:
    void go(int frame);

    const ExportFrames& frames_;
    double later_;
    Pictures& pictures_;
    Progress& progress_;
    ShownApart apart_;
    std::optional<int> frame_;
    std::map<ObjectId, std::shared_ptr<const Result>> results_;
    std::optional<Setting> setting_;
    std::optional<std::vector<Lamp>> lamps_;
};

/// Metadata that shows a name as people typed it.
std::string displayName(const std::string& name);
/// Gives a prim its place: moved, turned, sized.
void addPlacing(Prim& prim, const std::function<WorldPose(int frame)>& pose);
void addPlacing(Prim& prim, const std::function<SimilarityParts(int frame)>& pose);

Prim swarmPrim(FrameNow& now, ObjectId swarm, const std::string& parent, std::vector<std::string>& taken);
/// The shapes that are themselves seen where a swarm stands.
std::vector<Prim> backdropPrims(FrameNow& now, ObjectId swarm, const std::string& parent, std::vector<std::string>& taken);
/// The shapes of swarms that a swarm repeats: of each a point instancer with all its leaves, however deep they are.
std::vector<Prim> nestedPrims(FrameNow& now, ObjectId swarm, const std::string& parent, std::vector<std::string>& taken);
/// A mesh with its material inside it.
Prim meshPrim(FrameNow& now, const std::string& parent, const std::string& name, const std::string& label,
              const std::function<const Mesh&(int)>& mesh, bool seeThrough, const std::function<Look(int)>& look);
std::vector<Prim> lightPrims(FrameNow& now, std::vector<std::string>& taken);
/// All cameras, and “Shot”, which is the one that is on.
std::vector<Prim> cameraPrims(FrameNow& now, std::vector<std::string>& taken);

/// A mesh; `at` gives it at a frame, and at the first it has colours or none.
std::vector<Attribute> meshAttributes(const std::function<const Mesh&(int frame)>& at, int first);
/// A material as UsdPreviewSurface has it, on a mesh of so many metres for a step in U and V. Its colour is that of each instance, and its
/// opacity where some are see-through.
Prim materialPrim(FrameNow& now, const std::string& path, const std::string& name, bool seeThrough, const glm::vec2& metresPerUv,
                  const std::function<Look(int frame)>& at);

}  // namespace gswarm::usd
