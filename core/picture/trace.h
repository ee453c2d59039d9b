#pragma once
#include <functional>
#include <map>
#include <memory>
#include <span>
#include <vector>

#include "core/base/image.h"
#include "core/base/progress.h"
#include "core/picture/after.h"
#include "core/picture/draw_list.h"
#include "core/picture/film.h"
#include "core/picture/view.h"

namespace gswarm {

class Motion;

struct TraceSize {
    int width = 640, height = 360;
    int samples = 32;  ///< paths a pixel where something stands, on average (refinement.h), 1 … 4096
    std::uint32_t seed = 1;
    /// Where a tile's error (film.h) is below this share of white it takes no more samples; 0 for never.
    float noise = 0;
    bool filtered = false;  ///< by filter.h, before what comes after
};

/// How many samples pixels are to have.
struct SampleCounts {
    int samples = 1;
    std::span<const std::uint16_t> each = {};  ///< in place of it one number a pixel of the film, rows from the top
    std::uint32_t seed = 1;
};

/// Squares of pixels that one thread traces, from the top left of a part.
inline constexpr int traceTile = 16;
std::vector<PixelRect> tracedTiles(const PixelRect& part);

/// What a picture is made of: one moment, or several evenly apart from the shutter's opening to its closing.
struct Shot {
    std::vector<DrawList> lists;
    std::vector<Setting> settings;

    /// Light and display are those of the middle.
    const Setting& setting() const { return settings[settings.size() / 2]; }
};
/// Moments that a shutter which is open for a while is sampled at.
inline constexpr int shutterMoments = 5;

/// What a film's layers are gathered with.
struct Layering {
    int lightGroups = 0;
    /// Of lights, and of swarms that repeat some; what is not among them, glowing surfaces too, is the first.
    std::map<ObjectId, int> groupOf;
    int skyGroup = 0;
    const Motion* motion = nullptr;  ///< null for none
    bool place = false, emission = false, things = false;
};
/// Makes room in a film for what is gathered. Throws Error if there is not enough memory.
void addLayers(Film& film, const Layering& layering);

/// Makes traced pictures one after the other; what they have in common is not made again: meshes stay, and where only materials,
/// light or camera changed, everything does.
class Tracer {
  public:
    Tracer();
    ~Tracer();

    /// Takes what is pictured from now on. Throws Cancelled, after which nothing is shown.
    void show(Shot shot, Progress& progress);
    const Shot& shot() const { return shot_; }

    /// Takes samples until every pixel of a part has as many as asked for, and says how many rays that took. The film's aspect is
    /// the picture's. What a pixel gets depends on its place, the seed and the number of its samples alone, never on threads or on how
    /// often this was called. Throws Cancelled between pixels, with the film in order. `report` is told what share of the tiles is done,
    /// from several threads. The columns of the film's layers that are not empty are filled as well, by `layering`.
    std::int64_t expose(Film& film, const PixelRect& part, const SampleCounts& wanted, const Progress& progress,
                        const std::function<void(double)>& report = {}, const Layering& layering = {}) const;

  private:
    struct Shown;
    Shot shot_;
    std::unique_ptr<class MeshTrees> trees_;
    std::unique_ptr<Shown> shown_;
};

/// A path-traced still, box filter over the pixel (path.h tells what light does, bsdf.h what surfaces do). The same scene, size and
/// seed give the same bytes for any thread count. Throws Error for impossible sizes, Cancelled between pixels. Rays: Embree.
Image trace(Tracer& tracer, Shot shot, const TraceSize& size, Progress& progress);
/// The film of it, before the noise filter and what comes after.
Film exposed(Tracer& tracer, Shot shot, const TraceSize& size, Progress& progress, const Layering& layering = {});
Image trace(const DrawList& list, const Setting& setting, const TraceSize& size, Progress& progress);

/// Whether a film of one is a film of the other: they differ in nothing that light sees, at most in what comes after.
bool exposeAlike(const Shot& a, const Shot& b);

/// Throws Error for sizes and sample counts that are not tried.
void checkTraceSize(const TraceSize& size);

}  // namespace gswarm
