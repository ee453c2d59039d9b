#include "app/picture/renderer.h"

#include <algorithm>
#include <cmath>
#include <glm/gtc/quaternion.hpp>
#include <QOpenGLContext>
#include <QOpenGLFramebufferObject>
#include <QOpenGLFunctions>
#include <QOpenGLShaderProgram>
#include <QVector3D>

#include "app/picture/layer_buffer.h"
#include "app/theme/theme.h"
#include "core/base/error.h"
#include "core/shape/shape_kind.h"

using namespace gswarm;

namespace {

constexpr int instancesInSlice = 8192;

QVector3D vector(const glm::vec3& v) { return {v.x, v.y, v.z}; }

QMatrix4x4 matrix(const glm::mat4& m) {
    QMatrix4x4 out;
    for (int row = 0; row < 4; ++row)
        for (int column = 0; column < 4; ++column) out(row, column) = m[column][row];
    return out;
}

std::unique_ptr<QOpenGLShaderProgram> program(const char* vertex, const char* fragment) {
    auto made = std::make_unique<QOpenGLShaderProgram>();
    const bool fine = made->addShaderFromSourceFile(QOpenGLShader::Vertex, vertex) &&
                      made->addShaderFromSourceFile(QOpenGLShader::Fragment, fragment) && made->link();
    if (!fine) throw Error("The view can't be drawn: the graphics driver refused a shader (" + made->log().trimmed().toStdString() + ").");
    return made;
}

/// Finer meshes for what is larger on screen. `radius` is in pixels.
int levelFor(float radius, bool moving) {
    const int level = radius > 40 ? 0 : radius > 9 ? 1 : 2;
    return std::min(level + (moving ? 1 : 0), detailLevels - 1);
}

/// What is drawn where: the whole, or the variations side by side.
std::vector<std::pair<ViewRequest, QRect>> tilesOf(const ViewRequest& request) {
    if (!request.evaluated || request.evaluated->variations.empty()) return {{request, QRect(QPoint(), request.pixels)}};
    std::vector<std::pair<ViewRequest, QRect>> tiles;
    for (std::size_t k = 0; k < request.evaluated->variations.size(); ++k) {
        const QRect rect = variationRect(static_cast<int>(k), request.pixels);
        ViewRequest tile = request;
        tile.evaluated = request.evaluated->variations[k].shown;
        tile.pixels = rect.size();
        tile.weights = false;
        tiles.push_back({tile, rect});
    }
    return tiles;
}

}  // namespace

QRect variationRect(int number, QSize whole) {
    const int column = number % 3, row = number / 3;
    const int left = whole.width() * column / 3, right = whole.width() * (column + 1) / 3;
    const int top = whole.height() * row / 3, bottom = whole.height() * (row + 1) / 3;
    return {left, top, std::max(right - left, 1), std::max(bottom - top, 1)};
}

Renderer::Renderer() {
    if (!initializeOpenGLFunctions())
        throw Error(
            "The view can't be drawn: OpenGL 3.3 is not available on this machine. Everything else works; exports are traced without "
            "it.");
    swarmProgram_ = program(":/shaders/swarm.vert", ":/shaders/swarm.frag");
    groundProgram_ = program(":/shaders/ground.vert", ":/shaders/ground.frag");
    glGenBuffers(1, &matrixBuffer_);
    glGenBuffers(1, &colourBuffer_);
    glGenBuffers(1, &mixBuffer_);
    glGenVertexArrays(1, &emptyArray_);
    glEnable(GL_DEPTH_TEST);
}

Renderer::~Renderer() {
    for (auto& entry : meshes_) release(entry.second);
    glDeleteBuffers(1, &matrixBuffer_);
    glDeleteBuffers(1, &colourBuffer_);
    glDeleteBuffers(1, &mixBuffer_);
    glDeleteVertexArrays(1, &emptyArray_);
}

void Renderer::release(GpuMesh& mesh) {
    glDeleteVertexArrays(1, &mesh.vertexArray);
    glDeleteBuffers(1, &mesh.vertices);
    glDeleteBuffers(1, &mesh.indices);
}

void Renderer::drop() {
    for (auto it = meshes_.begin(); it != meshes_.end();) {
        if (it->second.meshes.expired()) {
            release(it->second);
            it = meshes_.erase(it);
        } else {
            ++it;
        }
    }
}

Renderer::GpuMesh& Renderer::meshFor(const std::shared_ptr<const ShapeMeshes>& meshes, int level) {
    GpuMesh& gpu = meshes_[{meshes.get(), level}];
    if (gpu.vertexArray && gpu.meshes.lock() == meshes) return gpu;
    if (gpu.vertexArray) release(gpu);
    const Mesh& mesh = *meshes->level[static_cast<std::size_t>(level)];
    gpu.meshes = meshes;
    gpu.indexCount = static_cast<int>(mesh.triangles.size());
    glGenVertexArrays(1, &gpu.vertexArray);
    glBindVertexArray(gpu.vertexArray);
    std::vector<float> vertices;
    vertices.reserve(mesh.positions.size() * 9);
    for (std::size_t i = 0; i < mesh.positions.size(); ++i) {
        const glm::vec3 colour = mesh.colours.empty() ? glm::vec3(1) : glm::vec3(mesh.colours[i]);
        for (const auto& v : {mesh.positions[i], mesh.normals[i], colour}) vertices.insert(vertices.end(), {v.x, v.y, v.z});
    }
    glGenBuffers(1, &gpu.vertices);
    glBindBuffer(GL_ARRAY_BUFFER, gpu.vertices);
    glBufferData(GL_ARRAY_BUFFER, static_cast<GLsizeiptr>(vertices.size() * 4), vertices.data(), GL_STATIC_DRAW);
    const unsigned attributes[] = {0, 1, 6};  // position, normal, colour of the mesh
    for (unsigned a = 0; a < 3; ++a) {
        glEnableVertexAttribArray(attributes[a]);
        glVertexAttribPointer(attributes[a], 3, GL_FLOAT, GL_FALSE, 36, reinterpret_cast<void*>(static_cast<std::uintptr_t>(a * 12)));
    }
    glGenBuffers(1, &gpu.indices);
    glBindBuffer(GL_ELEMENT_ARRAY_BUFFER, gpu.indices);
    glBufferData(GL_ELEMENT_ARRAY_BUFFER, static_cast<GLsizeiptr>(mesh.triangles.size() * 4), mesh.triangles.data(), GL_STATIC_DRAW);
    for (unsigned a = 2; a < 6; ++a) {
        glEnableVertexAttribArray(a);
        glVertexAttribDivisor(a, 1);
    }
    return gpu;
}

std::vector<Renderer::Batch> Renderer::gather(const ViewRequest& request, const Surface& surface, const Look& look, float ghost,
                                              std::vector<SeeThrough>& later) const {
    std::vector<Batch> batches(detailLevels);
    const Result& result = *surface.swarm;
    const glm::mat4 toClip =
        request.camera.matrix(static_cast<float>(request.pixels.width()) / static_cast<float>(request.pixels.height())) *
        matrixOf(surface.pose);
    const float radius = glm::length(surface.meshes->bounds.size()) * 0.5f * surface.pose.scale;
    const float pixels = static_cast<float>(request.pixels.width()) * request.camera.focalLength / 36;
    const bool weights = request.weights && result.swarm == request.evaluated->weighed &&
                         request.evaluated->weights.size() == static_cast<std::size_t>(result.count);
    const ResultColumns& columns = *result.columns;
    const bool clear = !weights && seesThrough(look), mixes = !weights && look.mix && look.mix->by != MixedBy::facing;
    for (const std::size_t i : surface.instances) {
        const float* m = &columns.matrix[12 * i];
        const glm::vec4 clip = toClip * glm::vec4(m[3], m[7], m[11], 1);
        const float size =
            radius * std::max({std::abs(m[0]) + std::abs(m[4]) + std::abs(m[8]), std::abs(m[1]) + std::abs(m[5]) + std::abs(m[9])});
        if (clip.w < -size || std::abs(clip.x) > clip.w + 4 * size || std::abs(clip.y) > clip.w + 6 * size) continue;
        std::uint32_t colour = columns.colour[i];
        if (weights) {
            const QColor c = theme::weightColour(request.evaluated->weights[i]);
            colour = static_cast<std::uint32_t>(c.red() | c.green() << 8 | c.blue() << 16) | 255u << 24;
        }
        const float away = request.camera.parallel ? request.camera.distance : std::max(clip.w, 0.01f);
        const int level = levelFor(size * pixels / away, request.moving);
        const float mix = mixes ? mixAt(*look.mix, lookedAt(result, static_cast<std::uint32_t>(i))) : 0;
        if ((colour >> 24 == 255 && !clear) || ghost > 0) {
            Batch& batch = batches[static_cast<std::size_t>(level)];
            batch.matrices.insert(batch.matrices.end(), m, m + 12);
            batch.colours.push_back(colour);
            if (mixes) batch.mixes.push_back(mix);
        } else if (colour >> 24 != 0 || clear) {
            later.push_back({request.camera.parallel ? clip.z : clip.w, &surface, level, static_cast<std::uint32_t>(i), colour, mix});
        }
    }
    return batches;
}

bool Renderer::drawBatch(GpuMesh& mesh, const Batch& batch, const std::atomic<bool>& cancelled) {
    glBindVertexArray(mesh.vertexArray);
    const auto count = static_cast<int>(batch.colours.size());
    for (int first = 0; first < count; first += instancesInSlice) {
        if (cancelled) return false;
        const int here = std::min(instancesInSlice, count - first);
        glBindBuffer(GL_ARRAY_BUFFER, matrixBuffer_);
        glBufferData(GL_ARRAY_BUFFER, static_cast<GLsizeiptr>(here) * 48, &batch.matrices[12 * static_cast<std::size_t>(first)],
                     GL_STREAM_DRAW);
        for (unsigned row = 0; row < 3; ++row)
            glVertexAttribPointer(2 + row, 4, GL_FLOAT, GL_FALSE, 48, reinterpret_cast<void*>(static_cast<std::uintptr_t>(row * 16)));
        glBindBuffer(GL_ARRAY_BUFFER, colourBuffer_);
        glBufferData(GL_ARRAY_BUFFER, static_cast<GLsizeiptr>(here) * 4, &batch.colours[static_cast<std::size_t>(first)], GL_STREAM_DRAW);
        glVertexAttribPointer(5, 4, GL_UNSIGNED_BYTE, GL_TRUE, 4, nullptr);
        if (batch.mixes.empty()) {
            glDisableVertexAttribArray(7);
            QOpenGLContext::currentContext()->functions()->glVertexAttrib1f(7, 0);
        } else {
            glBindBuffer(GL_ARRAY_BUFFER, mixBuffer_);
            glBufferData(GL_ARRAY_BUFFER, static_cast<GLsizeiptr>(here) * 4, &batch.mixes[static_cast<std::size_t>(first)], GL_STREAM_DRAW);
            glEnableVertexAttribArray(7);
            glVertexAttribDivisor(7, 1);
            glVertexAttribPointer(7, 1, GL_FLOAT, GL_FALSE, 4, nullptr);
        }
        // Also over batches: what comes after tells them apart.
        swarmProgram_->setUniformValue("firstNumber", drawn_ + 1);
        drawn_ += here;
        glDrawElementsInstanced(GL_TRIANGLES, mesh.indexCount, GL_UNSIGNED_INT, nullptr, here);
        if (count > instancesInSlice) glFinish();
    }
    return true;
}

void Renderer::setLight(const ViewRequest& request, QOpenGLShaderProgram& program) {
    const SunAndSky& light = request.setting.light;
    const Camera camera = request.camera.camera();
    program.setUniformValue("eye", vector(camera.position));
    const glm::vec3 looks = glm::normalize(camera.target - camera.position);
    program.setUniformValue("looks", QVector4D(vector(looks), request.camera.parallel ? 1 : 0));
    program.setUniformValue("sun", vector(towardSun(light)));
    program.setUniformValue("sunLight", vector(glm::vec3(light.sunColour) * light.sunStrength));
    program.setUniformValue("zenith", vector(glm::vec3(light.zenith) * light.skyStrength));
    program.setUniformValue("horizon", vector(glm::vec3(light.horizon) * light.skyStrength));
    program.setUniformValue("background", vector(request.setting.background));
    program.setUniformValue("exposure", request.setting.exposure);
    program.setUniformValue("soft", request.setting.display == DisplayTransform::soft ? 1.0f : 0.0f);
    program.setUniformValue("linear_", layered_ ? 1.0f : 0.0f);
    program.setUniformValue("groundColour", vector(glm::vec3(light.groundColour)));
}

/// All that a surface's instances share.
void Renderer::setSurface(const ViewRequest& request, const Surface& surface, const Look& look, float ghost) {
    const bool weights = request.weights && surface.swarm && !request.evaluated->weights.empty();
    swarmProgram_->setUniformValue("pose", matrix(matrixOf(surface.pose)));
    swarmProgram_->setUniformValue("flat_", weights ? 1.0f : 0.0f);
    swarmProgram_->setUniformValue("ghost", ghost);
    swarmProgram_->setUniformValue("dimmed", surface.dimmed ? 1.0f : 0.0f);
    setMaterials(weights ? Look{} : look);
}

void Renderer::setMaterials(const Look& look) {
    QOpenGLShaderProgram& program = *swarmProgram_;
    // Of what is mixed from mixed materials the outermost two are drawn.
    const Material materials[2] = {look.plain, look.mix ? look.mix->second.plain : look.plain};
    const auto both = [&](const char* name, auto of) {
        const QVector4D values[2] = {of(materials[0]), of(materials[1])};
        program.setUniformValueArray(name, values, 2);
    };
    both("surface", [](const Material& m) {
        const float clear = m.body == MaterialBody::opaque ? 0.0f : m.transmission;
        return QVector4D(m.metal, m.roughness, clear, m.emissionColour == glm::vec3(0) ? m.emission : 0);
    });
    both("glow", [](const Material& m) { return QVector4D(vector(m.emissionColour * m.emission), 0); });
    both("layers", [](const Material& m) { return QVector4D(m.coat, m.coatRoughness, m.sheen, m.sheenRoughness); });
    both("fibres", [](const Material& m) { return QVector4D(vector(m.sheenColour), 0); });
    both("rim", [](const Material& m) { return QVector4D(vector(m.rimColour * m.rim), rimPower(m)); });
    both("edge", [](const Material& m) { return QVector4D(m.rim > 0 ? m.rimOpacity : -1, 0, 0, 0); });
    const glm::vec4 second = materials[1].colour;
    program.setUniformValue("secondColour", QVector4D(second.x, second.y, second.z, second.w));
    // How far it faces the eye is only known there; the response comes as a table.
    const bool facing = look.mix && look.mix->by == MixedBy::facing;
    program.setUniformValue("mixedByFacing", facing ? 1.0f : 0.0f);
    GLfloat table[17] = {};
    for (int k = 0; facing && k < 17; ++k)
        table[k] = std::clamp(respondOne(look.mix->response, false, static_cast<float>(k) / 16), 0.0f, 1.0f);
    program.setUniformValueArray("facingTable", table, 17, 1);
}

/// The brightest lamps, as many as the shader takes.
void Renderer::setLamps(const ViewRequest& request, const DrawList& list) {
    constexpr std::size_t most = 16;
    std::vector<Lamp> lamps = allLamps(request.setting.lamps, list);
    const auto bright = [](const Lamp& lamp) { return lamp.light.x + lamp.light.y + lamp.light.z; };
    std::stable_sort(lamps.begin(), lamps.end(), [&](const Lamp& a, const Lamp& b) { return bright(a) > bright(b); });
    lamps.resize(std::min(lamps.size(), most));
    std::vector<QVector4D> places(most), lights(most), ways(most);
    for (std::size_t i = 0; i < lamps.size(); ++i) {
        const Lamp& lamp = lamps[i];
        const bool flat = lamp.form == LampForm::rectangle || lamp.form == LampForm::disc;
        // A flat one shines like a point with the light of its whole area, most along its middle.
        const float area = !flat ? 1 : lamp.form == LampForm::disc ? 3.14159265f * lamp.radius * lamp.radius : lamp.width * lamp.depth;
        places[i] = QVector4D(vector(lamp.position), lamp.form == LampForm::point ? -2
                                                     : flat                       ? (lamp.bothSides ? 3.0f : 2.0f)
                                                                                  : lamp.cosineNone);
        lights[i] = QVector4D(vector(lamp.light * area), flat ? 0 : lamp.reach);
        ways[i] = QVector4D(vector(lamp.along), lamp.cosineFull);
    }
    QOpenGLShaderProgram& program = *swarmProgram_;
    program.setUniformValue("lampCount", static_cast<int>(lamps.size()));
    program.setUniformValueArray("lampPlace", places.data(), static_cast<int>(most));
    program.setUniformValueArray("lampLight", lights.data(), static_cast<int>(most));
    program.setUniformValueArray("lampAlong", ways.data(), static_cast<int>(most));
}

void Renderer::setBlending(bool on) {
    swarmProgram_->setUniformValue("through", on ? 1.0f : 0.0f);
    glDepthMask(on ? GL_FALSE : GL_TRUE);
    if (!on) return glDisable(GL_BLEND);
    glEnable(GL_BLEND);
    glBlendFuncSeparate(GL_SRC_ALPHA, GL_ONE_MINUS_SRC_ALPHA, GL_ONE, GL_ONE_MINUS_SRC_ALPHA);
    glDisablei(GL_BLEND, 1);
}

/// Opaque instances and meshes first; then what is seen through, the farthest first.
bool Renderer::drawList(const ViewRequest& request, const DrawList& list, float ghost, const std::atomic<bool>& cancelled) {
    const float aspect = static_cast<float>(request.pixels.width()) / static_cast<float>(request.pixels.height());
    swarmProgram_->bind();
    setLight(request, *swarmProgram_);
    setLamps(request, list);
    swarmProgram_->setUniformValue("toClip", matrix(request.camera.matrix(aspect)));
    setBlending(false);
    const auto lookOf = [&](const Surface& surface) -> const Look& { return list.looks[static_cast<std::size_t>(surface.look)]; };
    std::vector<SeeThrough> later;
    for (const Surface& surface : list.surfaces) {
        if (!surface.swarm) continue;
        setSurface(request, surface, lookOf(surface), ghost);
        const auto batches = gather(request, surface, lookOf(surface), ghost, later);
        for (int level = 0; level < detailLevels; ++level) {
            const Batch& batch = batches[static_cast<std::size_t>(level)];
            if (!batch.colours.empty() && !drawBatch(meshFor(surface.meshes, level), batch, cancelled)) return false;
        }
    }
    if (ghost > 0) return true;
    for (const bool through : {false, true})
        for (const Surface& surface : list.surfaces)
            if (!surface.swarm && (surface.dimmed || surface.colour.w < 1 || seesThrough(lookOf(surface))) == through)
                drawSingle(request, surface, lookOf(surface));
    std::stable_sort(later.begin(), later.end(), [](const SeeThrough& a, const SeeThrough& b) { return a.depth > b.depth; });
    setBlending(true);
    for (std::size_t first = 0, next = 0; first < later.size(); first = next) {
        const Surface& surface = *later[first].surface;
        Batch batch;
        for (; next < later.size() && later[next].surface == &surface && later[next].level == later[first].level; ++next) {
            const float* m = &surface.swarm->columns->matrix[12 * static_cast<std::size_t>(later[next].row)];
            batch.matrices.insert(batch.matrices.end(), m, m + 12);
            batch.colours.push_back(later[next].colour);
            if (lookOf(surface).mix) batch.mixes.push_back(later[next].mix);
        }
        setSurface(request, surface, lookOf(surface), 0);
        if (!drawBatch(meshFor(surface.meshes, later[first].level), batch, cancelled)) return setBlending(false), false;
    }
    setBlending(false);
    return true;
}

/// A shape that is itself seen, as one instance. A dimmed one is see-through, from its front alone.
void Renderer::drawSingle(const ViewRequest& request, const Surface& surface, const Look& look) {
    setSurface(request, surface, look, 0);
    const auto byte = [](double share) { return static_cast<std::uint32_t>(std::clamp(share, 0.0, 1.0) * 255 + 0.5); };
    const glm::vec4& colour = surface.colour;
    Batch one;
    one.matrices = {1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0};
    one.colours = {byte(srgbFromLinear(colour.x)) | byte(srgbFromLinear(colour.y)) << 8 | byte(srgbFromLinear(colour.z)) << 16 |
                   (surface.dimmed ? 70u : byte(colour.w)) << 24};
    const bool through = surface.dimmed || colour.w < 1 || seesThrough(look);
    setBlending(through);
    if (through) glEnable(GL_CULL_FACE);
    static const std::atomic<bool> never{false};
    drawBatch(meshFor(surface.meshes, 0), one, never);
    glDisable(GL_CULL_FACE);
    setBlending(false);
}

void Renderer::drawGround(const ViewRequest& request) {
    const float aspect = static_cast<float>(request.pixels.width()) / static_cast<float>(request.pixels.height());
    groundProgram_->bind();
    setLight(request, *groundProgram_);
    groundProgram_->setUniformValue("toClip", matrix(request.camera.matrix(aspect)));
    groundProgram_->setUniformValue("height", request.setting.light.groundHeight);
    groundProgram_->setUniformValue("middle", vector(request.camera.target));
    groundProgram_->setUniformValue("reach", request.camera.distance);
    glBindVertexArray(emptyArray_);
    glDrawArrays(GL_TRIANGLES, 0, 6);
}

bool Renderer::drawScene(const ViewRequest& request, const std::atomic<bool>& cancelled) {
    if (request.ground && request.setting.light.ground) drawGround(request);
    if (!request.evaluated) return true;
    if (!drawList(request, drawListOf(request.evaluated->swarms), 0, cancelled)) return false;
    ViewRequest plain = request;
    plain.weights = false;
    for (const Ghost& ghost : request.evaluated->ghosts)
        if (!drawList(plain, drawListOf({&ghost.swarm, 1}), ghost.strength, cancelled)) return false;
    return true;
}

std::optional<QImage> Renderer::drawLayered(const ViewRequest& request, const std::atomic<bool>& cancelled) {
    if (!changesPictures(request.setting.after) || request.weights || (request.evaluated && !request.evaluated->variations.empty()))
        return {};
    if (!layers_) layers_ = std::make_unique<LayerBuffer>();
    if (!layers_->bind(request.pixels)) return {};
    layered_ = true;
    glViewport(0, 0, request.pixels.width(), request.pixels.height());
    const bool drawn = drawScene(request, cancelled);
    layered_ = false;
    glBindVertexArray(0);
    if (!drawn) return QImage();
    const Image image = finish(layers_->read(), request.setting);
    return QImage(image.pixels.data(), image.width, image.height, QImage::Format_RGBA8888).copy();
}

QImage Renderer::draw(const ViewRequest& request, const std::atomic<bool>& cancelled) {
    drop();
    drawn_ = 0;
    if (const auto layered = drawLayered(request, cancelled)) return *layered;
    if (!buffer_ || buffer_->size() != request.pixels)
        buffer_ = std::make_unique<QOpenGLFramebufferObject>(request.pixels, QOpenGLFramebufferObject::Depth);
    buffer_->bind();
    const glm::vec3 background = display(request.setting.background, request.setting.exposure, request.setting.display);
    glClearColor(background.x, background.y, background.z, 1);
    glClear(GL_COLOR_BUFFER_BIT | GL_DEPTH_BUFFER_BIT);
    for (const auto& [tile, rect] : tilesOf(request)) {
        glViewport(rect.x(), request.pixels.height() - rect.y() - rect.height(), rect.width(), rect.height());
        if (!drawScene(tile, cancelled)) return {};
    }
    glBindVertexArray(0);
    QImage image = buffer_->toImage();
    buffer_->release();
    return image;
}
