#include "core/shape/homes.h"

#include <algorithm>
#include <cmath>
#include <glm/geometric.hpp>

#include "core/base/parallel.h"

namespace gswarm {

std::size_t Homes::bytes() const {
    return sizeof *this + count() * (40 + 4 * extras.size()) + 4 * (element.size() + number.size() + order.size() + stretch.size());
}

void Homes::resize(std::size_t count) {
    eachHomeColumn(*this, *this, [&](auto& column, auto&) { column.resize(count); });
}

void Homes::setPlace(std::size_t row, const glm::vec3& place) {
    position.x[row] = place.x, position.y[row] = place.y, position.z[row] = place.z;
}

void Homes::setTurn(std::size_t row, const glm::quat& turn) {
    rotation.x[row] = turn.x, rotation.y[row] = turn.y, rotation.z[row] = turn.z, rotation.w[row] = turn.w;
}

void Homes::setId(std::size_t row, std::uint64_t id) {
    idLow[row] = static_cast<std::uint32_t>(id);
    idHigh[row] = static_cast<std::uint32_t>(id >> 32);
}

void Homes::append(const Homes& others) {
    eachHomeColumn(*this, others, [](auto& to, const auto& from) { to.insert(to.end(), from.begin(), from.end()); });
}

void Homes::numberAnew() {
    if (!anew) return;
    std::vector<std::uint32_t> counted(element.empty() ? 0 : *std::max_element(element.begin(), element.end()) + std::size_t{1}, 0);
    order.resize(element.size());
    stretch.resize(element.size());
    for (std::size_t i = 0; i < element.size(); ++i) order[i] = counted[element[i]]++;
    for (std::size_t i = 0; i < element.size(); ++i) stretch[i] = counted[element[i]];
}

void Homes::add(const glm::vec3& place, const glm::quat& turn, std::uint64_t id, float homeSize) {
    const std::size_t row = count();
    eachHomeColumn(*this, *this, [](auto& column, auto&) { column.emplace_back(); });
    setPlace(row, place);
    setTurn(row, turn);
    setId(row, id);
    size[row] = homeSize;
}

std::vector<glm::vec3> placesOf(const Homes& homes) {
    std::vector<glm::vec3> places;
    places.reserve(homes.count());
    for (std::size_t i = 0; i < homes.count(); ++i) places.push_back(homes.placeOf(i));
    return places;
}

glm::quat standingOn(const glm::vec3& normal, const glm::vec3& tangent) {
    glm::vec3 z = tangent - normal * glm::dot(normal, tangent);
    if (glm::dot(z, z) < 1e-12f) {
        const glm::vec3 axis = std::abs(normal.x) < 0.9f ? glm::vec3(1, 0, 0) : glm::vec3(0, 0, 1);
        z = axis - normal * glm::dot(normal, axis);
    }
    z = z / std::sqrt(glm::dot(z, z));
    return glm::normalize(glm::quat_cast(glm::mat3(glm::cross(normal, z), normal, z)));
}

glm::vec3 placeOn(const Mesh& mesh, const SurfacePoint& p) {
    const std::uint32_t* v = &mesh.triangles[3 * std::size_t{p.triangle}];
    return mesh.positions[v[0]] * (1 - p.b - p.c) + mesh.positions[v[1]] * p.b + mesh.positions[v[2]] * p.c;
}

Homes homesOn(const Mesh& mesh, const SurfacePoints& points) {
    Homes homes;
    for (const NamedNumbers& named : mesh.numbers) {
        homes.extras.push_back({HomeExtra::What::named, named.name, {}, false, std::vector<float>(points.size())});
        for (std::size_t i = 0; i < points.size(); ++i)
            homes.extras.back().values[i] = numberAt(mesh, named.name, points[i].triangle, points[i].b, points[i].c);
    }
    homes.resize(points.size());
    homes.element.resize(points.size());
    for (const auto what : {HomeExtra::What::groundU, HomeExtra::What::groundV})
        homes.extras.push_back({what, {}, {}, false, std::vector<float>(points.size())});
    auto& us = homes.extras[homes.extras.size() - 2].values;
    auto& vs = homes.extras.back().values;
    forRanges(points.size(), 4096, [&](std::size_t begin, std::size_t end) {
        for (std::size_t i = begin; i < end; ++i) {
            const SurfacePoint& p = points[i];
            const std::uint32_t* v = &mesh.triangles[3 * std::size_t{p.triangle}];
            const float a = 1 - p.b - p.c;
            glm::vec3 normal = mesh.normals[v[0]] * a + mesh.normals[v[1]] * p.b + mesh.normals[v[2]] * p.c;
            const float length = std::sqrt(glm::dot(normal, normal));
            normal = length > 1e-6f ? normal / length : mesh.normals[v[0]];
            const glm::vec3 tangent = mesh.tangents[v[0]] * a + mesh.tangents[v[1]] * p.b + mesh.tangents[v[2]] * p.c;
            homes.setPlace(i, placeOn(mesh, p));
            homes.setTurn(i, standingOn(normal, tangent));
            homes.setId(i, p.id);
            homes.size[i] = 1;
            homes.element[i] = mesh.faces[p.triangle];
            const glm::vec2 uv = mesh.uv[v[0]] * a + mesh.uv[v[1]] * p.b + mesh.uv[v[2]] * p.c;
            us[i] = uv.x, vs[i] = uv.y;
        }
    });
    return homes;
}

}  // namespace gswarm
