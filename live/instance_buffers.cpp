#include "live/instance_buffers.h"

#include <epoxy/gl.h>

namespace gswarm::live {
namespace {

/// In the order of the buffers.
enum Column { matrixColumn, colourColumn, mixColumn, placeColumn, closedColumn, lampColumn };
/// As swarm.vert has them.
constexpr unsigned firstRow = 2, colour = 5, mixShare = 7, sheetPlace = 10, lampList = 11, closedSides = 12;

template <class T>
void fill(unsigned buffer, std::span<const T> values) {
    glBindBuffer(GL_ARRAY_BUFFER, buffer);
    glBufferData(GL_ARRAY_BUFFER, static_cast<GLsizeiptr>(values.size_bytes()), values.data(), GL_STREAM_DRAW);
}

/// Whether there is such a column; where not, all instances have what the attribute is without an array.
bool switched(unsigned attribute, bool on) {
    if (on) {
        glEnableVertexAttribArray(attribute);
        glVertexAttribDivisor(attribute, 1);
    } else {
        glDisableVertexAttribArray(attribute);
    }
    return on;
}

}  // namespace

InstanceBuffers::InstanceBuffers() { glGenBuffers(static_cast<int>(buffers_.size()), buffers_.data()); }
InstanceBuffers::~InstanceBuffers() { glDeleteBuffers(static_cast<int>(buffers_.size()), buffers_.data()); }

void InstanceBuffers::use(const Batch& batch, int first, int count) {
    const auto part = [&](const auto& column, std::size_t each) {
        return std::span(column).subspan(each * static_cast<std::size_t>(first), each * static_cast<std::size_t>(count));
    };
    fill(buffers_[matrixColumn], part(batch.matrices, 12));
    for (unsigned row = 0; row < 3; ++row)
        glVertexAttribPointer(firstRow + row, 4, GL_FLOAT, GL_FALSE, 48, reinterpret_cast<void*>(static_cast<std::uintptr_t>(row * 16)));
    fill(buffers_[colourColumn], part(batch.colours, 1));
    glVertexAttribPointer(colour, 4, GL_UNSIGNED_BYTE, GL_TRUE, 4, nullptr);
    if (switched(mixShare, !batch.mixes.empty())) {
        fill(buffers_[mixColumn], part(batch.mixes, 1));
        glVertexAttribPointer(mixShare, 1, GL_FLOAT, GL_FALSE, 4, nullptr);
    } else {
        glVertexAttrib1f(mixShare, 0);
    }
    if (switched(sheetPlace, !batch.places.empty())) {
        fill(buffers_[placeColumn], part(batch.places, 1));
        glVertexAttribPointer(sheetPlace, 4, GL_FLOAT, GL_FALSE, 16, nullptr);
    } else {
        glVertexAttrib4f(sheetPlace, 0, 0, 0, 0);
    }
    if (switched(closedSides, !batch.closed.empty())) {
        fill(buffers_[closedColumn], part(batch.closed, 1));
        glVertexAttribIPointer(closedSides, 1, GL_UNSIGNED_INT, 4, nullptr);
    } else {
        glVertexAttribI1ui(closedSides, 0);
    }
}

void InstanceBuffers::useLamps(std::span<const glm::uvec3> lists) {
    fill(buffers_[lampColumn], lists);
    switched(lampList, true);
    glVertexAttribIPointer(lampList, 3, GL_UNSIGNED_INT, 0, nullptr);
}

void InstanceBuffers::useLamps(const glm::uvec3& list) { glVertexAttribI3ui(lampList, list.x, list.y, list.z); }

}  // namespace gswarm::live
