#pragma once
#include <cstdint>
#include <glm/gtc/quaternion.hpp>
#include <string>
#include <vector>

#include "core/scene/object_id.h"
#include "core/shape/mesh.h"

namespace gswarm {

/// What homes may bring along from a file or a mesh, besides place, turn and size: one column of all of them. The ground's UV are those
/// of the mesh that they stand on.
struct HomeExtra {
    enum class What { scaleX, scaleY, scaleZ, red, green, blue, alpha, shown, named, groundU, groundV };
    What what;
    std::string name;           ///< of a named value, by which the swarm's own is found
    ObjectId value;             ///< the named value itself, where it is chosen
    bool told = false;          ///< the person is told of it where the swarm has no value of that name
    std::vector<float> values;  ///< one a home; colours in linear light
};

/// Homes that are stored because they are slow to make, as columns like those of a block. Swarm space, in number order. The
/// rotation's +Y is the home normal and its +Z the tangent.
struct Homes {
    struct {
        std::vector<float> x, y, z;
    } position;  ///< metres
    struct {
        std::vector<float> x, y, z, w;
    } rotation;
    std::vector<float> size;
    std::vector<std::uint32_t> idLow, idHigh;  ///< each id once
    std::vector<std::uint32_t> element;        ///< source face, edge, corner or piece; as many, or none
    std::vector<std::uint32_t> number;         ///< in the whole swarm, of a rehearsal; none where rows are numbers
    bool anew = false;                         ///< numbers that cards read begin anew with each element
    std::vector<std::uint32_t> order;          ///< of each among its element, from 0; none where numbers don't begin anew
    std::vector<std::uint32_t> stretch;        ///< how many its element has; as many as `order`
    std::vector<HomeExtra> extras;
    std::string note;  ///< something the person should know, one sentence

    std::size_t count() const { return size.size(); }
    std::size_t bytes() const;
    void resize(std::size_t count);
    void add(const glm::vec3& place, const glm::quat& turn, std::uint64_t id, float homeSize = 1);
    /// Those of others behind them: what every home has, without elements, numbers and extras.
    void append(const Homes& others);
    /// Makes `order` and `stretch` from the elements, in the homes' own order, where numbers begin anew.
    void numberAnew();
    /// One that is not turned.
    void add(const glm::vec3& place, std::uint64_t id) { add(place, {1, 0, 0, 0}, id); }

    glm::vec3 placeOf(std::size_t row) const { return {position.x[row], position.y[row], position.z[row]}; }
    glm::quat turnOf(std::size_t row) const { return {rotation.w[row], rotation.x[row], rotation.y[row], rotation.z[row]}; }
    std::uint64_t idOf(std::size_t row) const { return std::uint64_t{idHigh[row]} << 32 | idLow[row]; }
    void setPlace(std::size_t row, const glm::vec3& place);
    void setTurn(std::size_t row, const glm::quat& turn);
    void setId(std::size_t row, std::uint64_t id);
};

/// The columns that every home has, pair by pair: of Homes, or of a block's HomeColumns. Whatever is true of one home stands
/// here once.
template <class A, class B, class Work>
void eachHomeColumn(A& a, B& b, Work work) {
    work(a.position.x, b.position.x), work(a.position.y, b.position.y), work(a.position.z, b.position.z);
    work(a.rotation.x, b.rotation.x), work(a.rotation.y, b.rotation.y);
    work(a.rotation.z, b.rotation.z), work(a.rotation.w, b.rotation.w);
    work(a.size, b.size), work(a.idLow, b.idLow), work(a.idHigh, b.idHigh);
}

/// Where all of them are.
std::vector<glm::vec3> placesOf(const Homes& homes);

/// The rotation whose +Y is a unit normal and whose +Z lies nearest to a tangent.
glm::quat standingOn(const glm::vec3& normal, const glm::vec3& tangent);

/// A point of a mesh that moves with it: (1 − b − c, b, c) of a triangle's corners.
struct SurfacePoint {
    std::uint32_t triangle;
    float b, c;
    std::uint64_t id;
};
using SurfacePoints = std::vector<SurfacePoint>;

/// Homes at points of a surface, turned to its smooth normals, with its tangents.
Homes homesOn(const Mesh& mesh, const SurfacePoints& points);
glm::vec3 placeOn(const Mesh& mesh, const SurfacePoint& point);

}  // namespace gswarm
