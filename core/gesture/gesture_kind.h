#pragma once
#include <cstring>
#include <span>

#include "core/base/block.h"
#include "core/base/lane_number.h"
#include "core/scene/describe.h"
#include "core/scene/rail_source.h"

namespace gswarm {

/// Which position of an instance patterns and zones look at.
enum class GesturePlace { home, current };

/// What every gesture's struct begins with; the first two rows of its table.
struct GestureBasics {
    float strength;  ///< percent
    GesturePlace place;
};

/// Most numbers of a gesture that may differ from instance to instance.
inline constexpr int mostGestureNumbers = 20;
/// Rails hold at most this many cards.
inline constexpr int mostCards = 64;

/// Where an instance was really changed, one bit per card and channel.
enum EffectChannel { positionEffect, rotationEffect, scaleEffect, colourEffect, otherEffect, effectChannels };
struct EffectColumns {
    alignas(64) WordColumn channel[effectChannels][mostCards / 32];
    bool used[effectChannels] = {};  ///< whether any card marks the channel in this block; the others hold nothing

    /// The channel's columns, empty if this block has not used them yet.
    WordColumn* use(EffectChannel which, int words) {
        if (!used[which]) std::memset(channel[which], 0, sizeof(WordColumn) * static_cast<std::size_t>(words));
        used[which] = true;
        return channel[which];
    }
};

/// All instances of a swarm as a card finds them, in number order, for gestures that need the whole at once.
struct WholeSwarm {
    std::vector<float> x, y, z, qx, qy, qz, qw, scaleX, scaleY, scaleZ, r, g, b, a;
    std::vector<float> radius;  ///< half the largest side of what each repeats, with its scale; 0 for hidden ones
    std::size_t count() const { return x.size(); }
};

/// What a gesture that carries on from the frame before needs to know beside that.
struct WholeMoment {
    /// What each instance repeats: the mesh, in its own metres, with the size and the foot it stands on; −1 for hidden ones.
    struct Shape {
        std::shared_ptr<const ShapeMeshes> meshes;
        float size;
        glm::vec3 foot;
    };
    std::vector<Shape> shapes{};
    std::vector<int> shape{};
    std::vector<float> where{};       ///< the weave at the place of each, responded, before the strength
    std::vector<glm::vec3> driven{};  ///< what drives it there; the same number three times where it is but one
    std::vector<glm::vec3> push{};    ///< of all forces there, in the world: metres a second, each second; empty where none is felt
    std::vector<float> grip{};        ///< and by which share a second they slow what moves
    const std::vector<float>* loose = nullptr;  ///< what was remembered of no single instance; null where nothing is known yet
    std::vector<const float*> from{};           ///< the kind's own columns of what is remembered; empty where nothing is known yet
    double frames = 0;                          ///< since then, 0 … 1
    std::vector<const float*> next{};           ///< the same columns one whole frame after `from`; empty for whole frames
    /// The same columns one loop earlier, at the whole frames around this one, and the share from the first to the second; empty where
    /// the seam of the loop is not blended here.
    std::vector<const float*> lapBelow{}, lapAbove{};
    float lapShare = 0;
    float seam = 0;  ///< how far the blend has come, 0 … 1
    Moment moment{};
    WorldPose swarm{};
};

/// What such a gesture makes of them: columns in number order, read again in the block.
using WholeColumns = std::vector<std::vector<float>>;

/// One of the swarms that a gesture carries on together.
struct WholeShare {
    const void* data;  ///< of its own card, prepared
    const WholeSwarm* all;
    const WholeMoment* moment;
};

struct GestureInput {
    const void* data;           ///< the kind's struct, prepared
    const LaneNumber* numbers;  ///< those of the table that may differ per instance, in its order; strength (a factor) first
    bool patternSigned;
    int components;  ///< of *block.driven: 1 or 3
    WorldPose swarm;
    Moment moment;
    LaneNumber offset;               ///< frames: the instance's own time minus the moment's
    int card;                        ///< number in the rail, for the effect bits
    int effectWords;                 ///< words of bits that the rail's cards need
    int row;                         ///< of the block's first instance in `whole`
    const WholeColumns* whole;       ///< null for gestures that need none
    const float* towards;            ///< weight by which a signed pattern goes toward something; block.weight unless it follows
    double stepFrames;               ///< since the remembered state
    const float* const* from;        ///< what each instance remembers, the kind's columns; null where nothing is known yet
    float* const* to;                ///< what it is to remember; null where nobody asks
    const Columns3 *before, *after;  ///< where the instances were and will be a moment away; null unless travel is read

    template <class T>
    const T& as() const {
        return *static_cast<const T*>(data);
    }
};

/// What of a gesture can be dragged in the picture, in the coordinates of its own space.
struct GestureHandle {
    const char* name;
    glm::vec3 place, along;  ///< unit direction of the drag
    const char* parameter;
    double perMetre = 1;  ///< change of the number for one metre along the drag
};

struct GestureKind : Kind {
    const GestureBasics& (*basics)(const void*) = nullptr;
    /// Looks around before the card's own time, weight and numbers are known: into block.measured and named values, by which its
    /// stagger may go. The swarm stands at the pose.
    std::function<void(const void*, const WorldPose&, Block&)> measure;
    /// Changes the block and marks in `effect` where it did.
    std::function<void(const GestureInput&, Block&, EffectColumns&)> apply;
    /// Asks for what the gesture reads beside its own numbers.
    std::function<void(void*, const RailSource&)> prepare;
    /// For gestures that need all instances at once. Cancels between its steps.
    std::function<WholeColumns(const void*, const WholeSwarm&, Progress&)> gather;
    /// For those that carry on from the frame before, too: they have columns that they remember, which come first among those made.
    /// Behind all that are made comes what is remembered of no single instance, of any length.
    /// Of several swarms that share a world, by `Kind::sharesWith`, all at once, in the order of their ids: the same for whichever
    /// of them asks.
    std::function<std::vector<WholeColumns>(std::span<const WholeShare>, Progress&)> carryOn;
    /// What the person should know of what was made, one sentence or more; empty for most.
    std::function<std::string(const WholeColumns&)> told;
    /// Which of those columns are the place of each instance, in the world: there the card looks around. −1 for none.
    int placeColumn = -1;
    /// Whether it acts differently by time alone.
    std::function<bool(const void*)> moves;
    /// Whether it needs to know where instances come from and go to.
    std::function<bool(const void*)> readsTravel;
    /// The columns that it remembers of every instance from frame to frame; false for those it does without as it is set, which
    /// are null then. What begins with no number is not known.
    std::function<std::vector<bool>(const void*)> remembers;
    std::vector<std::string> channels;  ///< its switches for what it changes, all of which may be off; none where it always acts
    /// Why the amounts that are on change nothing; empty where they do.
    std::function<std::string(const Part&, const NumberNow&)> stillAmount;
    /// Why it may leave everything as it is although it has weight and amounts.
    std::string stillReason = "what drives it is 0 on every instance";
    /// Of one that warps the space around a centre, in coordinates that its rotation has turned: for the struct's numbers. Its centre,
    /// limits and radius are made to fit the homes of its swarm. Empty for all others.
    std::function<std::vector<GestureHandle>(const void*)> handles;
    bool boxAroundHomes = false;  ///< its centre and size are a box that is made to fit the homes of its swarm
    /// Whether what it remembers starts one loop early, by its settings.
    std::function<bool(const Part&)> startsEarly;
    /// Over how many frames before the end of a loop it goes over into what it was one loop earlier, by its settings; 0 for none.
    std::function<double(const Part&)> blendsSeam;
    /// By how many frames at a weight of 1 it shifts the instances' own time for later cards; and the setting that says so,
    /// null where it does not.
    std::function<double(const void*)> shiftsTime;
    std::function<const Value*(const Part&)> timeShift;
    /// Whether it acts where no zone is, too.
    std::function<bool(const void*)> actsElsewhere;

    int laneCount() const;  ///< numbers that may differ per instance
};

/// Weights beyond this many times the whole are held where they shift time.
inline constexpr double mostWeightOfShift = 2;

/// Whether each of its channels says by or to.
inline bool choosesByOrTo(const Part& change) { return change.kind->indexOf("positionMode") >= 0; }

/// The kind of the part in a gesture's first slot.
inline const GestureKind& gestureKindOf(const Part& change) { return static_cast<const GestureKind&>(*change.kind); }

template <class T>
GestureKind makes(Describe<T, GestureKind>& described, void (*apply)(const GestureInput&, Block&, EffectColumns&)) {
    GestureKind kind = described.kind();
    kind.basics = [](const void* data) -> const GestureBasics& { return *static_cast<const T*>(data); };
    kind.apply = apply;
    return kind;
}
template <class T>
GestureKind preparing(GestureKind kind, void (*prepare)(T&, const RailSource&)) {
    kind.prepare = [prepare](void* data, const RailSource& source) { prepare(*static_cast<T*>(data), source); };
    return kind;
}
template <class T>
GestureKind gathering(GestureKind kind, WholeColumns (*gather)(const T&, const WholeSwarm&, Progress&)) {
    kind.gather = [gather](const void* data, const WholeSwarm& whole, Progress& progress) {
        return gather(*static_cast<const T*>(data), whole, progress);
    };
    return kind;
}

/// A table that begins with the rows that all gestures have.
template <class T>
struct DescribeGesture : Describe<T, GestureKind> {
    DescribeGesture(std::string id, std::string label, std::string summary)
        : Describe<T, GestureKind>(Family::gesture, std::move(id), std::move(label), std::move(summary)) {
        this->number("strength", &T::strength, 100, {0, 100}, "How strongly the whole gesture acts")
            .unit("%")
            .hard(-1000, 1000)
            .perInstance();
        this->choice("place", static_cast<GesturePlace T::*>(&T::place), {{"home", "Home"}, {"current", "Where it is now"}},
                     "Which position of an instance patterns and zones look at")
            .label("Reads place");
    }
};

extern const GestureKind changeGesture, aimGesture, makeRoomGesture, snapGesture, streamGesture, travelGesture, smoothGesture, swingGesture,
    pressGesture, bodiesGesture, bendGesture, twistGesture, taperGesture, roundGesture, squashGesture, curlGesture;

}  // namespace gswarm
