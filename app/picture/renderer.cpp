#include "app/picture/renderer.h"

#include <algorithm>
#include <cmath>
#include <glm/gtc/quaternion.hpp>
#include <QOpenGLFramebufferObject>
#include <QOpenGLShaderProgram>
#include <QVector3D>

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

glm::mat4 poseOf(const Result& result) {
    glm::mat4 pose = glm::mat4_cast(result.pose.rotation) * glm::scale(glm::mat4(1), glm::vec3(result.pose.scale));
    pose[3] = glm::vec4(result.pose.position, 1);
    return pose;
}

std::unique_ptr<QOpenGLShaderProgram> program(const char* vertex, const char* fragment) {
    auto made = std::make_unique<QOpenGLShaderProgram>();
    const bool fine = made->addShaderFromSourceFile(QOpenGLShader::Vertex, vertex) &&
                      made->addShaderFromSourceFile(QOpenGLShader::Fragment, fragment) && made->link();
    if (!fine)
        throw Error("The view can't be drawn: the graphics driver refused a shader (" + made->log().trimmed().toStdString() + ").");
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
    glGenVertexArrays(1, &emptyArray_);
    glEnable(GL_DEPTH_TEST);
}

Renderer::~Renderer() {
    for (auto& entry : meshes_) release(entry.second);
    glDeleteBuffers(1, &matrixBuffer_);
    glDeleteBuffers(1, &colourBuffer_);
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

std::vector<Renderer::Batch> Renderer::gather(const ViewRequest& request, const Result& result, std::uint16_t variantNumber,
                                              const std::vector<std::uint32_t>& instances) const {
    std::vector<Batch> batches(detailLevels);
    const Variant& variant = result.variants[variantNumber];
    const glm::mat4 toClip =
        request.camera.matrix(static_cast<float>(request.pixels.width()) / static_cast<float>(request.pixels.height())) * poseOf(result);
    const float radius = glm::length(variant.meshes->bounds.size()) * 0.5f * result.pose.scale;
    const float pixels = static_cast<float>(request.pixels.width()) * request.camera.focalLength / 36;
    const bool weights = request.weights && request.evaluated->weights.size() == static_cast<std::size_t>(result.count);
    const ResultColumns& columns = *result.columns;
    for (const std::size_t i : instances) {
        const float* m = &columns.matrix[12 * i];
        const glm::vec4 clip = toClip * glm::vec4(m[3], m[7], m[11], 1);
        const float size =
            radius * std::max({std::abs(m[0]) + std::abs(m[4]) + std::abs(m[8]), std::abs(m[1]) + std::abs(m[5]) + std::abs(m[9])});
        if (clip.w < -size || std::abs(clip.x) > clip.w + 4 * size || std::abs(clip.y) > clip.w + 6 * size) continue;
        Batch& batch = batches[static_cast<std::size_t>(levelFor(size * pixels / std::max(clip.w, 0.01f), request.moving))];
        batch.matrices.insert(batch.matrices.end(), m, m + 12);
        if (weights) {
            const QColor c = theme::weightColour(request.evaluated->weights[i]);
            batch.colours.push_back(static_cast<std::uint32_t>(c.red() | c.green() << 8 | c.blue() << 16) | 255u << 24);
        } else {
            batch.colours.push_back(columns.colour[i]);
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
        glDrawElementsInstanced(GL_TRIANGLES, mesh.indexCount, GL_UNSIGNED_INT, nullptr, here);
        if (count > instancesInSlice) glFinish();
    }
    return true;
}

void Renderer::setLight(const ViewRequest& request, QOpenGLShaderProgram& program) {
    const SunAndSky& light = request.setting.light;
    program.setUniformValue("eye", vector(request.camera.camera().position));
    program.setUniformValue("sun", vector(towardSun(light)));
    program.setUniformValue("sunLight", vector(glm::vec3(light.sunColour) * light.sunStrength));
    program.setUniformValue("zenith", vector(glm::vec3(light.zenith) * light.skyStrength));
    program.setUniformValue("horizon", vector(glm::vec3(light.horizon) * light.skyStrength));
    program.setUniformValue("background", vector(request.setting.background));
    program.setUniformValue("exposure", request.setting.exposure);
    program.setUniformValue("groundColour", vector(glm::vec3(light.groundColour)));
}

bool Renderer::drawSwarm(const ViewRequest& request, const Result& result, float ghost, const std::atomic<bool>& cancelled) {
    const float aspect = static_cast<float>(request.pixels.width()) / static_cast<float>(request.pixels.height());
    swarmProgram_->bind();
    setLight(request, *swarmProgram_);
    swarmProgram_->setUniformValue("toClip", matrix(request.camera.matrix(aspect)));
    swarmProgram_->setUniformValue("pose", matrix(poseOf(result)));
    const bool weights = request.weights && !request.evaluated->weights.empty();
    swarmProgram_->setUniformValue("flat_", weights ? 1.0f : 0.0f);
    swarmProgram_->setUniformValue("through", 0.0f);
    swarmProgram_->setUniformValue("ghost", ghost);
    const auto byVariant = instancesByVariant(result);
    for (std::size_t v = 0; v < byVariant.size(); ++v) {
        if (byVariant[v].empty()) continue;
        const Variant& variant = result.variants[v];
        swarmProgram_->setUniformValue("metal", weights ? 0.0f : variant.metal);
        swarmProgram_->setUniformValue("roughness", variant.roughness);
        const auto batches = gather(request, result, static_cast<std::uint16_t>(v), byVariant[v]);
        for (int level = 0; level < detailLevels; ++level) {
            const Batch& batch = batches[static_cast<std::size_t>(level)];
            if (batch.colours.empty()) continue;
            if (!drawBatch(meshFor(variant.meshes, level), batch, cancelled)) return false;
        }
    }
    return true;
}

/// Shapes that are themselves seen, as one instance each. Dimmed ones are see-through, drawn after all else.
void Renderer::drawBackdrops(const ViewRequest& request, const Result& result) {
    const float aspect = static_cast<float>(request.pixels.width()) / static_cast<float>(request.pixels.height());
    swarmProgram_->bind();
    setLight(request, *swarmProgram_);
    swarmProgram_->setUniformValue("toClip", matrix(request.camera.matrix(aspect)));
    swarmProgram_->setUniformValue("flat_", 0.0f);
    swarmProgram_->setUniformValue("ghost", 0.0f);
    swarmProgram_->setUniformValue("metal", 0.0f);
    swarmProgram_->setUniformValue("roughness", 0.8f);
    for (const Backdrop& backdrop : result.backdrops) {
        if (backdrop.meshes->mesh().triangles.empty()) continue;
        glm::mat4 pose = glm::mat4_cast(backdrop.pose.rotation) * glm::scale(glm::mat4(1), glm::vec3(backdrop.pose.scale));
        pose[3] = glm::vec4(backdrop.pose.position, 1);
        swarmProgram_->setUniformValue("pose", matrix(pose));
        Batch one;
        one.matrices = {1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0};
        const auto byte = [](double linear) {
            return static_cast<std::uint32_t>(std::clamp(srgbFromLinear(linear), 0.0, 1.0) * 255 + 0.5);
        };
        one.colours = {byte(backdrop.colour.x) | byte(backdrop.colour.y) << 8 | byte(backdrop.colour.z) << 16 |
                       (backdrop.dimmed ? 70u : 255u) << 24};
        swarmProgram_->setUniformValue("through", backdrop.dimmed ? 1.0f : 0.0f);
        if (backdrop.dimmed) {
            glEnable(GL_BLEND);
            glBlendFuncSeparate(GL_SRC_ALPHA, GL_ONE_MINUS_SRC_ALPHA, GL_ONE, GL_ONE);
            glDepthMask(GL_FALSE);
            glEnable(GL_CULL_FACE);
        }
        static const std::atomic<bool> never{false};
        drawBatch(meshFor(backdrop.meshes, 0), one, never);
        glDisable(GL_BLEND);
        glDisable(GL_CULL_FACE);
        glDepthMask(GL_TRUE);
    }
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
    for (const auto& result : request.evaluated->swarms)
        if (result->shown && !drawSwarm(request, *result, 0, cancelled)) return false;
    for (const auto& result : request.evaluated->swarms)
        if (result->shown) drawBackdrops(request, *result);
    ViewRequest plain = request;
    plain.weights = false;
    for (const Ghost& ghost : request.evaluated->ghosts)
        if (ghost.swarm->shown && !drawSwarm(plain, *ghost.swarm, ghost.strength, cancelled)) return false;
    return true;
}

QImage Renderer::draw(const ViewRequest& request, const std::atomic<bool>& cancelled) {
    drop();
    if (!buffer_ || buffer_->size() != request.pixels)
        buffer_ = std::make_unique<QOpenGLFramebufferObject>(request.pixels, QOpenGLFramebufferObject::Depth);
    buffer_->bind();
    const glm::vec3 background = display(request.setting.background, request.setting.exposure);
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
