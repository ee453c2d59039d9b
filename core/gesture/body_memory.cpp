#include "core/gesture/body_memory.h"

#include <algorithm>
#include <cmath>
#include <glm/geometric.hpp>

#include "core/base/text.h"

namespace gswarm {
namespace {

void put(WholeColumns& columns, std::size_t at, std::size_t row, const glm::vec3& v) {
    for (int c = 0; c < 3; ++c) columns[at + static_cast<std::size_t>(c)][row] = v[c];
}
void put(WholeColumns& columns, std::size_t at, std::size_t row, const glm::quat& q) {
    columns[at][row] = q.x, columns[at + 1][row] = q.y, columns[at + 2][row] = q.z, columns[at + 3][row] = q.w;
}

/// Reads rows of columns.
struct Row {
    const std::vector<const float*>& columns;
    std::size_t row;
    float operator[](std::size_t column) const { return columns[column][row]; }
    glm::vec3 three(std::size_t column) const { return {(*this)[column], (*this)[column + 1], (*this)[column + 2]}; }
    glm::quat turn(std::size_t column) const { return {(*this)[column + 3], (*this)[column], (*this)[column + 1], (*this)[column + 2]}; }
};

bool isTurn(const glm::quat& q) { return std::abs(glm::dot(q, q) - 1) < 0.1f; }
bool isPlace(const glm::vec3& v) { return std::abs(v.x) < 1e30f && std::abs(v.y) < 1e30f && std::abs(v.z) < 1e30f; }

/// Numbers one after the other.
struct Reading {
    const std::vector<float>& from;
    std::size_t at = 0;
    float number() { return at < from.size() ? from[at++] : 0; }
    /// A number that is none is −1.
    int whole() {
        const float v = number();
        return std::abs(v) < 1e9f ? static_cast<int>(v) : -1;
    }
    bool more() const { return at < from.size(); }
    glm::vec3 three() {
        const float x = number(), y = number(), z = number();
        return {x, y, z};
    }
    glm::quat turn() {
        const glm::vec3 v = three();
        return {number(), v.x, v.y, v.z};
    }
};
void add(std::vector<float>& to, const glm::vec3& v) { to.insert(to.end(), {v.x, v.y, v.z}); }
void add(std::vector<float>& to, const glm::quat& q) { to.insert(to.end(), {q.x, q.y, q.z, q.w}); }

std::vector<float> looseOf(const BodiesAround& around) {
    std::vector<float> loose;
    for (const std::size_t count : {around.obstacles.size(), around.bonds.size(), around.contacts.size()})
        loose.push_back(static_cast<float>(count));
    loose.push_back(static_cast<float>(around.overlapping));
    for (const Obstacle& o : around.obstacles) add(loose, o.place), add(loose, o.turn);
    for (const BodyBond& b : around.bonds) {
        loose.insert(loose.end(), {static_cast<float>(b.one), static_cast<float>(b.other)});
        add(loose, b.place), add(loose, b.turn);
    }
    for (const BodyContact& c : around.contacts) {
        loose.insert(loose.end(), {static_cast<float>(c.one), static_cast<float>(c.other)});
        add(loose, c.at);
        loose.push_back(c.impulse);
    }
    return loose;
}

/// Toward where it was one loop earlier, softly; all of the way at the seam itself.
void blendOver(const WholeMoment& moment, std::size_t i, glm::vec3& place, glm::quat& turn) {
    const Row below{moment.lapBelow, i}, above{moment.lapAbove, i};
    if (!(std::abs(below[placeAt]) < 1e30f) || !(std::abs(above[placeAt]) < 1e30f)) return;
    const glm::vec3 then = glm::mix(below.three(placeAt), above.three(placeAt), moment.lapShare);
    const glm::quat thenTurn = glm::slerp(below.turn(turnAt), above.turn(turnAt), moment.lapShare);
    const float share = moment.seam * moment.seam * (3 - 2 * moment.seam);
    place = share < 1 ? glm::mix(place, then, share) : then;
    turn = share < 1 ? glm::slerp(turn, thenTurn, share) : thenTurn;
}

}  // namespace

bool recall(const std::vector<const float*>& columns, std::size_t i, BodyState& state, BodyMember& member) {
    if (columns.empty()) return false;
    const Row row{columns, i};
    for (std::size_t c = 0; c < rememberedColumns; ++c)
        if (!(std::abs(row[c]) < 1e30f)) return false;  // also what comes out of a file and can't be
    if (!isTurn(row.turn(turnAt)) || !isTurn(row.turn(aimTurnAt))) return false;
    state.place = row.three(placeAt), state.turn = row.turn(turnAt);
    state.speed = row.three(speedAt), state.spin = row.three(spinAt);
    state.still = row[stillAt], state.asleep = row[restsAt] != 0, state.lost = row[restsAt] == 2;
    state.aim = row.three(aimAt), state.aimTurn = row.turn(aimTurnAt);
    member.age = row[ageAt], member.idle = row[idleAt];
    member.mode = static_cast<BodyMode>(std::clamp(row[modeAt], 0.0f, 2.0f));
    return true;
}

BodyState between(const BodyState& from, const BodyState& to, float share, float seconds) {
    BodyState state = from;
    const glm::vec3 way = to.place - from.place, begins = from.speed * seconds, ends = to.speed * seconds;
    state.place = from.place + way * share;
    const bool same = glm::dot(begins, ends) > 0.9f * glm::length(begins) * glm::length(ends);
    if (same && glm::distance(way, (begins + ends) / 2.0f) < 0.1f * glm::length(way)) {
        const float left = 1 - share;  // a cubic with these places and speeds
        state.place += share * left * (left * (begins - way) - share * (ends - way));
    }
    state.turn = glm::slerp(from.turn, to.turn, share);
    state.speed = glm::mix(from.speed, to.speed, share), state.spin = glm::mix(from.spin, to.spin, share);
    state.asleep = from.asleep && to.asleep;
    return state;
}

BodiesAround recallAround(const WholeMoment& moment, std::vector<Obstacle> obstacles, std::size_t bodiesOfAll) {
    BodiesAround around;
    around.obstacles = std::move(obstacles);
    if (!moment.loose || moment.loose->empty()) return around;
    Reading in{*moment.loose};
    const int stood = in.whole(), bonds = in.whole(), contacts = in.whole();
    around.overlapping = in.whole();
    // Others than before begin at rest.
    const bool same = stood == static_cast<int>(around.obstacles.size());
    for (int k = 0; k < stood && in.more(); ++k) {
        const glm::vec3 place = in.three();
        const glm::quat turn = in.turn();
        if (!same || !isPlace(place) || !isTurn(turn)) continue;
        Obstacle& obstacle = around.obstacles[static_cast<std::size_t>(k)];
        obstacle.before = place, obstacle.turnBefore = turn;
    }
    // What comes out of a file may name bodies that are none.
    const auto bodies = static_cast<int>(moment.shape.size()), all = static_cast<int>(bodiesOfAll);
    for (int k = 0; k < bonds && in.more(); ++k) {
        BodyBond bond;
        bond.one = in.whole(), bond.other = in.whole();
        bond.place = in.three(), bond.turn = in.turn();
        if (bond.one >= 0 && bond.one < bodies && bond.other >= 0 && bond.other < bodies && bond.one != bond.other && isPlace(bond.place) &&
            isTurn(bond.turn))
            around.bonds.push_back(bond);
    }
    for (int k = 0; k < contacts && in.more(); ++k) {
        BodyContact contact;
        contact.one = in.whole(), contact.other = in.whole();
        contact.at = in.three(), contact.impulse = in.number();
        if (contact.one < all && contact.other < all && isPlace(contact.at) && std::abs(contact.impulse) < 1e30f)
            around.contacts.push_back(contact);
    }
    return around;
}

WholeColumns columnsOf(std::span<const BodyState> states, std::span<const BodyMember> members, const BodiesAround& around,
                       const WholeMoment& moment) {
    WholeColumns columns(bodyColumns, std::vector<float>(states.size()));
    for (std::size_t i = 0; i < states.size(); ++i) {
        const BodyState& state = states[i];
        put(columns, placeAt, i, state.place), put(columns, turnAt, i, state.turn);
        put(columns, speedAt, i, state.speed), put(columns, spinAt, i, state.spin);
        columns[stillAt][i] = state.still;
        columns[restsAt][i] = state.lost ? 2 : state.asleep ? 1 : 0;
        columns[modeAt][i] = static_cast<float>(members[i].mode);
        columns[idleAt][i] = members[i].idle;
        columns[ageAt][i] = members[i].age;
        put(columns, aimAt, i, state.aim), put(columns, aimTurnAt, i, state.aimTurn);
        glm::vec3 place = state.place;
        glm::quat worldTurn = state.turn;
        if (moment.seam > 0) blendOver(moment, i, place, worldTurn);
        const glm::quat turn = glm::conjugate(moment.swarm.rotation) * worldTurn;
        put(columns, shownPlaceAt, i, moment.swarm.fromWorld(place) - turn * members[i].offset);
        put(columns, shownTurnAt, i, turn);
        columns[contactsAt][i] = static_cast<float>(state.contacts);
    }
    columns.push_back(looseOf(around));
    return columns;
}

std::string toldOfBodies(const WholeColumns& columns) {
    std::string told;
    const auto overlapping = static_cast<std::size_t>(columns.back().size() > 3 ? columns.back()[3] : 0);
    if (overlapping > 0)
        told = counted(overlapping, "pair", "pairs") + " of bodies overlap where they begin; they part over the first half second.";
    const auto lost = static_cast<std::size_t>(std::count(columns[restsAt].begin(), columns[restsAt].end(), 2.0f));
    if (lost > 0)
        told += std::string(told.empty() ? "" : " ") + counted(lost, "body has", "bodies have") +
                " run out of the world and sleep where that was.";
    return told;
}

}  // namespace gswarm
