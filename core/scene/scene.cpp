#include "core/scene/scene.h"

#include <algorithm>
#include <stdexcept>

#include "core/base/error.h"
#include "core/scene/object_kinds.h"

namespace gswarm {
namespace {

template <class Infos>
std::size_t indexById(const Infos& infos, std::string_view id) {
    for (std::size_t i = 0; i < infos.size(); ++i)
        if (infos[i].id == id) return i;
    throw std::logic_error("no slot or list " + std::string(id));
}

}  // namespace

const Part& Object::part(std::string_view slot) const { return parts[indexById(classOf(id.type()).slotInfos, slot)]; }
Part& Object::part(std::string_view slot) { return parts[indexById(classOf(id.type()).slotInfos, slot)]; }
bool Object::holds(std::string_view slot) const {
    const auto& infos = classOf(id.type()).slotInfos;
    return std::any_of(infos.begin(), infos.end(), [&](const SlotInfo& info) { return info.id == slot; });
}
const std::vector<ObjectId>& Object::list(std::string_view name) const { return lists[indexById(classOf(id.type()).lists, name)]; }
std::vector<ObjectId>& Object::list(std::string_view name) { return lists[indexById(classOf(id.type()).lists, name)]; }

const Object* Scene::find(ObjectId id) const {
    const auto found = objects.find(id);
    return found == objects.end() ? nullptr : found->second.get();
}

const Object& Scene::at(ObjectId id) const {
    if (const Object* object = find(id)) return *object;
    throw Error("What this belonged to is no longer in the project; nothing was changed.");
}

std::vector<ObjectId> Scene::all(ObjectType type) const {
    std::vector<ObjectId> ids;
    for (const ObjectId id : order)
        if (id.type() == type) ids.push_back(id);
    return ids;
}

const Object& Scene::project() const { return at(all(ObjectType::project).at(0)); }

ObjectId Scene::named(ObjectType type, std::string_view name) const {
    for (const ObjectId id : all(type))
        if (at(id).name == name) return id;
    return {};
}

ObjectId Scene::ownerOf(ObjectId id) const {
    for (const auto& [owner, object] : objects)
        for (const auto& list : object->lists)
            if (std::find(list.begin(), list.end(), id) != list.end()) return owner;
    return {};
}

std::vector<ObjectId> Scene::referringTo(ObjectId id) const {
    std::vector<ObjectId> out;
    for (const auto& [other, object] : objects) {
        const bool refers = std::any_of(object->parts.begin(), object->parts.end(), [id](const Part& part) {
            return std::find(part.values.begin(), part.values.end(), Value(id)) != part.values.end();
        });
        if (refers) out.push_back(other);
    }
    return out;
}

bool operator==(const Scene& a, const Scene& b) {
    const auto byType = [](std::vector<ObjectId> order) {
        std::stable_sort(order.begin(), order.end(), [](ObjectId x, ObjectId y) { return x.type() < y.type(); });
        return order;
    };
    return (a.order == b.order || byType(a.order) == byType(b.order)) && a.unknown == b.unknown &&
           std::equal(a.objects.begin(), a.objects.end(), b.objects.begin(), b.objects.end(),
                      [](const auto& x, const auto& y) { return x.first == y.first && (x.second == y.second || *x.second == *y.second); });
}

Moment momentAt(const Scene& scene, double frame) {
    const Part& project = scene.project().part("settings");
    const auto number = [&](const char* name) { return std::get<Numbers>(project[name]).front().value; };
    return {frame, parseRate(choiceOf(project, "rate")), number("loopStart"), number("loopFrames")};
}

}  // namespace gswarm
