#pragma once
#include <functional>
#include <glm/mat4x4.hpp>
#include <memory>
#include <optional>
#include <string>
#include <vector>

#include "core/base/content_hash.h"
#include "core/base/lattice.h"
#include "core/base/moment.h"
#include "core/base/progress.h"
#include "core/base/world_pose.h"
#include "core/scene/object_id.h"

namespace gswarm {

struct Homes;
struct AskedMedia;
struct AskedSound;
struct ShapeMeshes;
struct StandingShape;

/// All that another swarm shows at a frame, in the world and in number order, and a hash of what this depends on; 0 where that can't
/// be told.
struct ShownShapes {
    std::shared_ptr<const std::vector<StandingShape>> shapes;
    std::uint64_t hash = 0;
};

/// The swarm's stock as results number it: for each entry its first variant and how many it has.
struct StockTold {
    struct Entry {
        ObjectId id;
        int first, count;
    };
    std::vector<Entry> entries;
};

/// What patterns, zones and gestures may ask for while a rail is prepared. A call throws Error, with a sentence for the
/// card, if what is asked for was deleted or can't be made; the card then waits. Whatever is given goes into the hash
/// under which results are kept.
class RailSource {
  public:
    Moment moment;
    WorldPose swarm;
    Progress* progress = nullptr;

    /// A shape in its own metres.
    std::function<std::shared_ptr<const ShapeMeshes>(ObjectId)> shape;
    /// Where the shown instances of another swarm are, in the world.
    std::function<std::shared_ptr<const Homes>(ObjectId swarm)> instances;
    /// What another swarm shows.
    std::function<ShownShapes(ObjectId swarm)> shown;
    /// What media show at a frame, not made before it is asked for.
    std::function<AskedMedia(ObjectId media, double frame)> media;
    /// A sound, which is not looked through before it is asked for.
    std::function<AskedSound(ObjectId sound)> sound;
    /// From the world to what a camera sees, −1 … 1 across and upward before the division by w; of the one that is on for none.
    std::function<glm::mat4(ObjectId camera)> view;
    /// The swarm's own homes where they are stored, null where its formation computes them.
    std::shared_ptr<const Homes> standing;
    /// The grid that it stands on, whose coordinates are the ids of its homes; nothing where it stands on none.
    std::optional<Lattice> lattice;
    /// Between these frames lie the instances' own times; both are the moment's where all have that.
    double earliest = 0, latest = 0;
    /// The swarms that share a world with this one, itself too; empty where it shares none.
    std::vector<ObjectId> sharing;
    /// The homes of a formation in the space of its swarm, in number order.
    std::function<std::shared_ptr<const Homes>(ObjectId formation)> homes;
    /// Where a zone, swarm, camera or light stands.
    std::function<WorldPose(ObjectId)> pose;
    /// Which of this swarm's columns a named value is.
    std::function<int(ObjectId number)> column;
    /// Which of its columns the number behind an address is, where it is a named value of this swarm.
    std::function<std::optional<int>(const std::string& address)> columnAt;
    std::function<StockTold()> stock;
    /// The value behind an address, as it was typed.
    std::function<double(const std::string& address)> number;
    /// What is slow to make, kept under a key of all that goes into it.
    std::function<std::shared_ptr<const void>(std::uint64_t key, const std::function<std::shared_ptr<const void>()>& make,
                                              const std::function<std::size_t(const void*)>& bytesOf)>
        kept;
    /// Whatever was given since it was last emptied.
    std::shared_ptr<ContentHash> hash;

    template <class T, class Make>
    std::shared_ptr<const T> keptAs(std::uint64_t key, std::size_t bytes, Make make) const {
        return std::static_pointer_cast<const T>(kept(
            key, [&]() -> std::shared_ptr<const void> { return std::make_shared<const T>(make()); },
            [bytes](const void*) { return bytes; }));
    }
    /// The same of what can tell its bytes.
    template <class T, class Make>
    std::shared_ptr<const T> keptAs(std::uint64_t key, Make make) const {
        return std::static_pointer_cast<const T>(kept(
            key, [&]() -> std::shared_ptr<const void> { return std::make_shared<const T>(make()); },
            [](const void* made) { return static_cast<const T*>(made)->bytes(); }));
    }
};

}  // namespace gswarm
