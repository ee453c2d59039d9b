#pragma once
#include <string>
#include <vector>

#include "core/scene/kind.h"

namespace gswarm {

/// One part of an object. A slot of the object family always holds the one kind named here; the others hold any kind
/// of their family.
struct SlotInfo {
    std::string id;      ///< member of the file's object
    std::string prefix;  ///< put before parameter ids in addresses, so that slots don't clash: "pattern-"
    Family family = Family::object;
    const Kind* only = nullptr;
};

/// A list of objects that an object owns, in an order that matters.
struct ListInfo {
    std::string id;
    ObjectType child;
};

/// What an object of one type is made of.
struct ObjectClass {
    ObjectType type;
    std::string id;      ///< "gesture"
    std::string plural;  ///< member of the file, empty for what is owned by another object
    std::string label;
    std::vector<SlotInfo> slotInfos;
    std::vector<ListInfo> lists;
};

const std::vector<ObjectClass>& objectClasses();
const ObjectClass& classOf(ObjectType type);

}  // namespace gswarm
