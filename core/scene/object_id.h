#pragma once
#include <compare>
#include <cstdint>
#include <functional>
#include <string>
#include <string_view>

namespace gswarm {

/// The classes of things a scene is made of; the value is the letter their ids begin with.
enum class ObjectType : char {
    none = 0,
    project = 'p',
    shape = 'h',
    swarm = 's',
    formation = 'f',
    stock = 'k',
    rail = 'r',
    gesture = 'g',
    zone = 'z',
    weave = 'w',
    namedValue = 'n',
    symmetry = 'y',
    light = 'l',
    camera = 'c',
    material = 't',
    media = 'i',
    sound = 'a',
    force = 'e',
    mount = 'm',
    group = 'o',
};

/// Names an object for good: its type's letter and 55 random bits, written as the letter and eleven base-32 digits.
/// Never reused; a pasted object draws a new one.
struct ObjectId {
    std::uint64_t bits = 0;

    ObjectType type() const { return static_cast<ObjectType>(static_cast<char>(bits >> 56)); }
    explicit operator bool() const { return bits != 0; }
    auto operator<=>(const ObjectId&) const = default;
};

/// A fresh id from the system's random source.
ObjectId newObjectId(ObjectType type);
std::string toText(ObjectId id);
/// The empty id if `text` is not one.
ObjectId parseObjectId(std::string_view text);

}  // namespace gswarm

template <>
struct std::hash<gswarm::ObjectId> {
    std::size_t operator()(gswarm::ObjectId id) const { return std::hash<std::uint64_t>()(id.bits); }
};
