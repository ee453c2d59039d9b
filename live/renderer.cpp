#include "live/renderer.h"

#include <epoxy/gl.h>

#include <algorithm>
#include <cmath>

#include "core/base/error.h"
#include "core/base/parallel.h"
#include "core/picture/after.h"
#include "core/picture/display.h"
#include "core/picture/occlusion.h"
#include "core/shape/shape_kind.h"
#include "live/features.h"
#include "live/lamp_groups.h"
#include "live/lamp_lists.h"
#include "live/light_uniforms.h"
#include "live/look_uniforms.h"
#include "live/nested.h"
#include "live/shader_texts.h"
#include "live/smooth_edges.h"

namespace gswarm::live {
namespace {

constexpr int instancesInSlice = 8192;
constexpr int shadowUnit = 0, aroundUnit = 1, lampShadowUnit = 3, pictureUnit = 4;  ///< of textures

/// What comes after looks at.
Guide guideFor(const LivePicture& picture) {
    if (picture.setting.after.lines != EdgeLines::none || picture.steps.occlusion) return Guide::whole;
    return picture.setting.after.fog ? Guide::distance : Guide::none;
}

void checkVersion() {
    if (epoxy_gl_version() < 33)
        throw Error(
            "The view can't be drawn: OpenGL 3.3 is not available on this machine. Everything else works; exports are traced without "
            "it.");
}

}  // namespace

/// A picture under way.
struct Renderer::Frame {
    const LivePicture& picture;
    int width, height;
    bool layered;
    Guide guide;
    const std::atomic<bool>& cancelled;
    glm::mat4 toClip;
    bool shadows;                       ///< of the first sun
    std::size_t shadowedLamps = 0;      ///< the first few
    mutable std::vector<Lamp> lamps{};  ///< of the list at hand, the brightest

    Frame(const LivePicture& picture, int width, int height, bool layered, const std::atomic<bool>& cancelled)
        : picture(picture),
          width(width),
          height(height),
          layered(layered),
          guide(guideFor(picture)),
          cancelled(cancelled),
          toClip(clipMatrix(picture.setting.camera, static_cast<float>(width) / static_cast<float>(height))),
          shadows(picture.steps.shadows && !picture.setting.light.suns.empty()) {}

    unsigned features() const {
        const bool around = Around::shines(picture.setting.light.surroundings);
        unsigned all = static_cast<unsigned>(sunsOf(picture.setting.light)) * feature::oneSun;
        if (shadows) all |= feature::shadowed;
        if (around) all |= feature::surrounded;
        if (!lamps.empty()) all |= feature::lamplit;
        if (shadowedLamps > 0 && !lamps.empty()) all |= feature::lampShadowed;
        if (layered) all |= feature::layered;
        if (layered && guide != Guide::none) all |= guide == Guide::whole ? feature::guided : feature::distant;
        return all;
    }
};

namespace {

constexpr const char* depthOnly[] = {"DEPTH_ONLY"};

}  // namespace

Renderer::Renderer() : depths_((checkVersion(), depthOnly), "", swarmVert(), shadowFrag()) {
    casters_ = std::make_unique<CasterDrawer>();
    shadows_ = std::make_unique<ShadowMap>();
    lampShadows_ = std::make_unique<LampShadows>();
    around_ = std::make_unique<Around>();
    glGenVertexArrays(1, &emptyArray_);
    glEnable(GL_DEPTH_TEST);
    glDepthFunc(GL_LEQUAL);
}

Renderer::~Renderer() {
    glDeleteVertexArrays(1, &emptyArray_);
    glDeleteFramebuffers(1, &frame_);
    for (const unsigned* part : {&colour_, &depth_}) glDeleteRenderbuffers(1, part);
}

bool Renderer::drawBatch(const Frame& frame, const GpuMesh& mesh, const Batch& batch) {
    glBindVertexArray(mesh.vertexArray);
    if (!number_.empty()) GpuMeshes::useNumber(mesh, number_);
    const auto count = static_cast<int>(batch.colours.size());
    for (int first = 0; first < count; first += instancesInSlice) {
        if (frame.cancelled) return false;
        const int here = std::min(instancesInSlice, count - first);
        instances_.use(batch, first, here);
        if (!frame.lamps.empty() && bound_ != &depths_)
            setLampLists(frame, mesh, {&batch.matrices[12 * static_cast<std::size_t>(first)], 12 * static_cast<std::size_t>(here)});
        // Also over batches: what comes after tells them apart.
        bound_->set("firstNumber", drawn_ + 1);
        drawn_ += here;
        glDrawElementsInstanced(GL_TRIANGLES, mesh.indexCount, GL_UNSIGNED_INT, nullptr, here);
        if (count > instancesInSlice) glFinish();
    }
    return true;
}

/// Which lamps each instance may get light from: the rest need not be looked at for its pixels.
void Renderer::setLampLists(const Frame& frame, const GpuMesh& mesh, std::span<const float> matrices) {
    std::vector<glm::uvec3> lists(matrices.size() / 12);
    forRanges(lists.size(), 256, [&](std::size_t begin, std::size_t end) {
        for (std::size_t k = begin; k < end; ++k) {
            const float* m = &matrices[12 * k];
            float squares = 0;
            for (int row = 0; row < 3; ++row)
                for (int column = 0; column < 3; ++column) squares += m[4 * row + column] * m[4 * row + column];
            lists[k] = lampsInto(frame.lamps, frame.shadowedLamps, {m[3], m[7], m[11]}, mesh.reach * std::sqrt(squares));
        }
    });
    instances_.useLamps(lists);
}

Program& Renderer::lit(const Frame& frame, bool ground, unsigned features) {
    Lit& found = programs_[{ground, features}];
    if (!found.program) {
        found.program = std::make_unique<Program>(feature::namesOf(features), commonGlsl(), ground ? groundVert() : swarmVert(),
                                                  ground ? groundFrag() : swarmFrag());
    }
    Program& program = *found.program;
    program.bind();
    if (found.light == light_) return program;
    found.light = light_;
    program.set("toClip", frame.toClip);
    setLight(frame, program);
    return program;
}

Program& Renderer::swarmProgram(const Frame& frame, const Look& look, bool ghost) {
    const unsigned all = frame.features();
    // A ghost has other lamps than those whose shadows are there.
    const unsigned shared = ghost ? (all & ~feature::lampShadowed) | feature::ghostly : all;
    return lit(frame, false, shared | (blending_ ? feature::blended : 0u) | feature::ofLook(look, all & feature::surrounded));
}

void Renderer::setLight(const Frame& frame, Program& program) {
    const Setting& setting = frame.picture.setting;
    setView(program, setting, around_->use(program, setting.light.surroundings, aroundUnit));
    if (frame.shadows) shadows_->use(program, shadowUnit);
    if (!frame.lamps.empty()) setLamps(program, frame.lamps);
    if (frame.shadowedLamps > 0) lampShadows_->use(program, lampShadowUnit);
}

/// All that a surface's instances share.
void Renderer::setSurface(const Frame& frame, const Surface& surface, const Look& look, float ghost) {
    static const Look plain;
    const bool recoloured = ghost <= 0 && isRecoloured(frame.picture, surface);
    const Look& seen = recoloured ? plain : look;
    Program& program = swarmProgram(frame, seen, ghost > 0);
    bound_ = &program;
    program.set("how", glm::vec3(recoloured, surface.dimmed, ghost));
    setLook(program, seen, textures_, pictureUnit);
    const Bounds& box = surface.meshes->bounds;
    program.set("boxMiddle", box.centre());
    program.set("boxHalf", glm::max(box.size() * 0.5f, glm::vec3(1e-20f)));
    number_ = seen.mix ? seen.mix->value : "";
    setBox(program, seen, box.low, box.size());
}

void Renderer::setBlending(bool on) {
    blending_ = on;
    glDepthMask(on ? GL_FALSE : GL_TRUE);
    if (!on) return glDisable(GL_BLEND);
    glEnable(GL_BLEND);
    glBlendFuncSeparate(GL_SRC_ALPHA, GL_ONE_MINUS_SRC_ALPHA, GL_ONE, GL_ONE_MINUS_SRC_ALPHA);
    glDisablei(GL_BLEND, 1);
}

bool Renderer::drawBatches(const Frame& frame, const Surface& surface, const std::array<Batch, detailLevels>& batches) {
    bool whole = true;
    for (int level = 0; level < detailLevels && whole; ++level) {
        const Batch& batch = batches[static_cast<std::size_t>(level)];
        if (batch.colours.empty()) continue;
        const GpuMesh& mesh = meshes_.of(surface.meshes, level);
        // Software renderers take as long for a face that something hides as for one that is seen.
        if (batch.fromOutside && meshes_.isSolid(surface.meshes, level)) glEnable(GL_CULL_FACE);
        glFrontFace(glm::determinant(glm::mat3(surface.pose)) < 0 ? GL_CW : GL_CCW);
        whole = drawBatch(frame, mesh, batch);
        glFrontFace(GL_CCW);
        glDisable(GL_CULL_FACE);
    }
    return whole;
}

/// How far what is seen is, so that nothing behind it is lit.
bool Renderer::drawDepths(const Frame& frame, const std::vector<Opaque>& opaque) {
    glColorMask(GL_FALSE, GL_FALSE, GL_FALSE, GL_FALSE);
    glEnable(GL_POLYGON_OFFSET_FILL);
    glPolygonOffset(0, 1);  // what is drawn again may not fall behind itself
    bool whole = true;
    const int drawn = drawn_;
    bound_ = &depths_;
    depths_.bind();
    depths_.set("toClip", frame.toClip);
    for (const auto& [surface, batches] : opaque) {
        whole = whole && drawBatches(frame, *surface, batches);
    }
    drawn_ = drawn;
    glDisable(GL_POLYGON_OFFSET_FILL);
    glColorMask(GL_TRUE, GL_TRUE, GL_TRUE, GL_TRUE);
    return whole;
}

/// Opaque instances and meshes first; then what is seen through, the farthest first.
bool Renderer::drawList(const Frame& frame, const DrawList& list, float ghost) {
    const Camera& camera = frame.picture.setting.camera;
    const bool parallel = camera.projection == Projection::parallel;
    const float across = parallel ? 1 / std::max(camera.width, 1e-4f) : camera.focalLength / 36;
    const Gathering gathering{frame.picture, frame.toClip, static_cast<float>(frame.width) * across, parallel, ghost > 0};
    ++light_;
    frame.lamps = drawnLamps(allLamps(frame.picture.setting.lamps, list));
    setBlending(false);
    const auto lookOf = [&](const Surface& surface) -> const Look& { return list.looks[static_cast<std::size_t>(surface.look)]; };
    std::vector<SeeThrough> later;
    std::vector<Opaque> opaque;
    for (const Surface& surface : list.surfaces)
        if (surface.swarm && !isNested(surface)) opaque.push_back({&surface, gathered(gathering, surface, lookOf(surface), later)});
    std::vector<Together> nested = gatheredTogether(gathering, list, later);
    for (Together& all : nested) opaque.push_back({&all.as, std::move(all.batches)});
    // Where light is dear the nearest first is not enough.
    const bool depthsFirst = ghost <= 0 && !frame.lamps.empty();
    if (depthsFirst && !drawDepths(frame, opaque)) return false;
    glDepthMask(depthsFirst ? GL_FALSE : GL_TRUE);
    for (const auto& [surface, batches] : opaque) {
        setSurface(frame, *surface, lookOf(*surface), ghost);
        if (!drawBatches(frame, *surface, batches)) return glDepthMask(GL_TRUE), false;
    }
    glDepthMask(GL_TRUE);
    if (ghost > 0) return true;
    for (const bool through : {false, true}) {
        // Behind what is opaque little of it has to be drawn.
        if (through && frame.picture.ground && frame.picture.setting.light.ground.shown) drawGround(frame);
        for (const Surface& surface : list.surfaces)
            if (!surface.swarm && (surface.dimmed || surface.colour.w < 1 || seesThrough(lookOf(surface))) == through)
                drawSingle(frame, surface, lookOf(surface));
    }
    std::stable_sort(later.begin(), later.end(), [](const SeeThrough& a, const SeeThrough& b) { return a.depth > b.depth; });
    setBlending(true);
    for (std::size_t first = 0, next = 0; first < later.size(); first = next) {
        const Surface& surface = *later[first].surface;
        Batch batch;
        for (; next < later.size() && later[next].surface == &surface && later[next].level == later[first].level; ++next) {
            batch.matrices.resize(batch.matrices.size() + 12);
            leafMatrix(surface.pose, &surface.swarm->columns->matrix[12 * static_cast<std::size_t>(later[next].row)], 1,
                       &batch.matrices.end()[-12]);
            batch.colours.push_back(later[next].colour);
            if (lookOf(surface).mix) batch.mixes.push_back(later[next].mix);
            if (shownOn(lookOf(surface))) batch.places.push_back(later[next].place);
        }
        setSurface(frame, surface, lookOf(surface), 0);
        if (!drawBatch(frame, meshes_.of(surface.meshes, later[first].level), batch)) return setBlending(false), false;
    }
    setBlending(false);
    return true;
}

/// A shape that is itself seen, as one instance. A dimmed one is see-through, from its front alone.
void Renderer::drawSingle(const Frame& frame, const Surface& surface, const Look& look) {
    const glm::vec4& colour = surface.colour;
    Batch one;
    static constexpr float still[12] = {1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0};
    one.matrices.resize(12);
    leafMatrix(surface.pose, still, 1, one.matrices.data());
    if (const ShownPictures* shown = shownOn(look)) one.places = {placeOnSheet(*shown, {})};
    one.colours = {encodedColour(surface.dimmed ? glm::vec4(glm::vec3(colour), 70 / 255.0f) : colour)};
    const bool through = surface.dimmed || colour.w < 1 || seesThrough(look);
    setBlending(through);
    setSurface(frame, surface, look, 0);
    if (through) glEnable(GL_CULL_FACE);
    if (glm::determinant(glm::mat3(surface.pose)) < 0) glFrontFace(GL_CW);
    drawBatch(frame, meshes_.of(surface.meshes, 0), one);
    glFrontFace(GL_CCW);
    glDisable(GL_CULL_FACE);
    setBlending(false);
}

void Renderer::drawGround(const Frame& frame) {
    const Setting& setting = frame.picture.setting;
    ++light_;
    Program& program = lit(frame, true, frame.features());
    program.set("height", setting.light.ground.height);
    program.set("middle", setting.camera.target);
    program.set("reach", glm::length(setting.camera.position - setting.camera.target));
    glBindVertexArray(emptyArray_);
    InstanceBuffers::useLamps(allLampsListed(frame.lamps.size(), frame.shadowedLamps));
    glDrawArrays(GL_TRIANGLES, 0, 6);
}

/// Into the framebuffer that is bound.
bool Renderer::drawScene(const Frame& frame) {
    if (!drawList(frame, frame.picture.list, 0)) return false;
    for (const Ghost& ghost : frame.picture.ghosts)
        if (!drawList(frame, ghost.list, ghost.strength)) return false;
    return true;
}

void Renderer::bindPlain(int width, int height) {
    if (!frame_) {
        glGenFramebuffers(1, &frame_);
        glGenRenderbuffers(1, &colour_);
        glGenRenderbuffers(1, &depth_);
    }
    glBindFramebuffer(GL_FRAMEBUFFER, frame_);
    if (width == width_ && height == height_) return;
    width_ = width, height_ = height;
    glBindRenderbuffer(GL_RENDERBUFFER, colour_);
    glRenderbufferStorage(GL_RENDERBUFFER, GL_RGBA8, width, height);
    glBindRenderbuffer(GL_RENDERBUFFER, depth_);
    glRenderbufferStorage(GL_RENDERBUFFER, GL_DEPTH_COMPONENT24, width, height);
    glFramebufferRenderbuffer(GL_FRAMEBUFFER, GL_COLOR_ATTACHMENT0, GL_RENDERBUFFER, colour_);
    glFramebufferRenderbuffer(GL_FRAMEBUFFER, GL_DEPTH_ATTACHMENT, GL_RENDERBUFFER, depth_);
}

std::optional<Image> Renderer::drawPlain(const std::vector<Tile>& tiles, int width, int height, const std::atomic<bool>& cancelled) {
    bindPlain(width, height);
    const Setting& first = tiles.front().picture.setting;
    const glm::vec3 background = display(first.background, first.exposure, first.display);
    glClearColor(background.x, background.y, background.z, 1);
    glClear(GL_COLOR_BUFFER_BIT | GL_DEPTH_BUFFER_BIT);
    for (const auto& [picture, place] : tiles) {
        glViewport(place.x, height - place.y - place.height, place.width, place.height);
        if (!drawScene(Frame(picture, place.width, place.height, false, cancelled))) return {};
    }
    glBindVertexArray(0);
    Image image{width, height, std::vector<std::uint8_t>(4 * static_cast<std::size_t>(width) * static_cast<std::size_t>(height))};
    std::vector<std::uint8_t> rows(image.pixels.size());
    glReadPixels(0, 0, width, height, GL_RGBA, GL_UNSIGNED_BYTE, rows.data());
    const std::size_t row = 4 * static_cast<std::size_t>(width);
    for (std::size_t y = 0; y < static_cast<std::size_t>(height); ++y)
        std::copy_n(&rows[(static_cast<std::size_t>(height) - 1 - y) * row], row, &image.pixels[y * row]);
    return image;
}

std::optional<Image> Renderer::draw(const std::vector<Tile>& tiles, int width, int height, const std::atomic<bool>& cancelled) {
    meshes_.forgetUnused();
    textures_.forgetUnused();
    drawn_ = 0;
    return drawPlain(tiles, width, height, cancelled);
}

/// Those that are not there yet.
void Renderer::drawShadows(Frame& frame) {
    const LivePicture& picture = frame.picture;
    if (!picture.steps.shadows) return;
    const std::vector<Cast> casts = castsOf(picture.list);
    if (frame.shadows && !shadows_->has(casts, picture.setting.light.suns.front()))
        shadows_->draw(picture.list, picture.setting.light.suns.front(), *casters_, meshes_, instances_.matrixBuffer());
    const std::vector<Lamp> lamps = drawnLamps(allLamps(picture.setting.lamps, picture.list));
    const std::span<const Lamp> shadowed(lamps.data(), LampShadows::fitting(lamps));
    frame.shadowedLamps = shadowed.size();
    if (!shadowed.empty() && !lampShadows_->has(casts, shadowed))
        lampShadows_->draw(picture.list, shadowed, *casters_, meshes_, instances_.matrixBuffer());
}

bool Renderer::drawLayers(const Frame& frame) {
    glViewport(0, 0, frame.width, frame.height);
    const bool whole = drawScene(frame);
    if (whole) {
        layers_.read(linear_);
        if (frame.picture.steps.occlusion) occlude(linear_, frame.picture.setting);
    }
    glBindVertexArray(0);
    return whole;
}

std::optional<Image> Renderer::draw(const LivePicture& picture, int width, int height, const std::atomic<bool>& cancelled) {
    meshes_.forgetUnused();
    textures_.forgetUnused();
    drawn_ = 0;
    Frame frame(picture, width, height, true, cancelled);
    drawShadows(frame);
    std::optional<Image> image;
    const bool plain = picture.coloured || (!changesPictures(picture.setting.after) && !picture.steps.occlusion);
    if (plain || !layers_.bind(width, height, frame.guide))
        image = drawPlain({{picture, {0, 0, width, height}}}, width, height, cancelled);
    else if (drawLayers(frame))
        image = finishInPlace(linear_, picture.setting);
    if (image && picture.steps.smoothEdges) smoothEdges(*image);
    return image;
}

std::optional<Image16> Renderer::drawFine(const LivePicture& picture, int width, int height, const std::atomic<bool>& cancelled) {
    meshes_.forgetUnused();
    textures_.forgetUnused();
    drawn_ = 0;
    Frame frame(picture, width, height, true, cancelled);
    drawShadows(frame);
    if (!layers_.bind(width, height, frame.guide))
        throw Error("This machine's OpenGL draws live pictures in 8 bits alone; nothing was written. Choose 8 bits, or leave “live” off.");
    if (!drawLayers(frame)) return {};
    return finish16(std::move(linear_), picture.setting);
}

}  // namespace gswarm::live
