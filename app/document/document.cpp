#include "app/document/document.h"

#include <algorithm>
#include <utility>

#include "app/document/shown_zones.h"
#include "core/arrange/fitted_formation.h"
#include "core/base/error.h"
#include "core/edit/key_edits.h"
#include "core/exchange/project_copy.h"
#include "core/file/project_file.h"
#include "core/kinds/registry.h"
#include "core/provide/bring_in.h"
#include "core/resolve/references.h"
#include "core/resolve/resolve.h"
#include "core/resolve/soundness.h"
#include "core/scene/frame_range.h"
#include "core/time/track.h"

using namespace gswarm;

Document::Document(QObject* parent) : QObject(parent), history_(emptyScene()), savedScene_(history_.scene()) {
    connect(this, &Document::sceneChanged, this, [this] { read_.reset(); });
    connect(this, &Document::fileChanged, this, [this] { listener_->setFolder(folder()); });
    replace(Scene(scene()), {});
}

ObjectId Document::edit(const MakeEdit& make) {
    try {
        Edit made = make(scene());
        refit(scene(), made, frame_, {{}, folder()}, store_);
        refuseUnsound(made.scene, scene());
        const ObjectId id = made.made;
        const QString besides = QString::fromStdString(made.told);
        history_.apply(std::move(made), chosen_);
        emit trouble({});
        tellScene();
        if (!besides.isEmpty()) emit told(besides);
        return id;
    } catch (const Error& error) {
        emit trouble(error.what());
        return {};
    }
}

ObjectId Document::editTogether(const Address& address, const MakeOne& make) {
    return edit([&](const Scene& s) {
        const auto all = together(address);
        Edit edit = make(s, address);
        for (std::size_t k = 1; k < all.size(); ++k) {
            Edit next = make(edit.scene, all[k]);
            edit.scene = std::move(next.scene);
            edit.mergeKey += next.mergeKey;
        }
        if (all.size() > 1) edit.label = std::to_string(all.size()) + " things: " + parameterAt(s, address).label;
        return edit;
    });
}

std::vector<Address> Document::together(const Address& address) const {
    std::vector<Address> all{address};
    if (selection_.size() < 2 || std::find(selection_.begin(), selection_.end(), address.object) == selection_.end()) return all;
    const Part& part = scene().at(address.object).parts[static_cast<std::size_t>(address.slot)];
    for (const ObjectId id : selection_) {
        if (id == address.object || id.type() != address.object.type()) continue;
        if (scene().at(id).parts[static_cast<std::size_t>(address.slot)].kind != part.kind) continue;
        all.push_back(address);
        all.back().object = id;
    }
    return all;
}

bool Document::differs(const Address& address) const {
    const auto all = together(address);
    return std::any_of(all.begin() + 1, all.end(), [&](const Address& other) {
        const Value &a = valueOf(scene(), address), &b = valueOf(scene(), other);
        if (!std::holds_alternative<Numbers>(a) || !std::holds_alternative<Numbers>(b)) return a != b;
        const Numbers &ours = numbersAt(scene(), address), &theirs = numbersAt(scene(), other);
        for (std::size_t c = 0; c < ours.size(); ++c) {
            if (address.component >= 0 && c != static_cast<std::size_t>(address.component)) continue;
            if (valueAt(scene(), ours[c], frame_) != valueAt(scene(), theirs[c], frame_)) return true;
        }
        return false;
    });
}

void Document::setNumber(const Address& address, double value) {
    editTogether(address, [&](const Scene& s, const Address& one) {
        Edit edit = gswarm::setNumber(s, one, value, frame_);
        if (!recording_) return edit;
        const Numbers& numbers = numbersAt(s, one);
        const bool fixed = !numbers[static_cast<std::size_t>(std::max(one.component, 0))].moves();
        if (fixed && !parameterAt(s, one).still) edit.scene = toggleKey(edit.scene, one, frame_).scene;
        return edit;
    });
}
void Document::setValue(const Address& address, const Value& value) {
    editTogether(address, [&](const Scene& s, const Address& one) { return gswarm::setValue(s, one, value); });
}

void Document::asOneStep(const std::string& label, const std::function<void()>& work) {
    seal();
    const std::size_t since = history_.steps();
    work();
    history_.join(since, label);
}

void Document::undo() {
    if (!history_.canUndo()) return;
    const ObjectId before = history_.undo(chosen_);
    tellScene();
    session_.rejoin(scene());
    if (scene().find(before)) choose(before);
}

void Document::redo() {
    if (!history_.canRedo()) return;
    const ObjectId after = history_.redo(chosen_);
    tellScene();
    if (scene().find(after)) choose(after);
}

void Document::tellScene() {
    const Scene& now = scene();
    const Session::Forgotten forgotten = session_.forgetWhatIsGone(now);
    const auto forget = [&](ObjectId& id) { return id && !now.find(id) && std::exchange(id, ObjectId{}); };
    const bool gone = std::erase_if(selection_, [&](ObjectId id) { return !now.find(id); }) > 0;
    const bool solo = forget(solo_), handled = forget(handled_), chosen = forget(chosen_) || gone;
    // A gesture may have come to handles of its own, or have lost them.
    const ObjectId held = handled || !handled_ || handled_.type() == ObjectType::gesture ? handledGesture(now, chosen_) : handled_;
    const bool otherHandles = std::exchange(handled_, held) != held;
    // A link that waits for its other end is given up with the number it began at.
    const bool linking = linked_ && !exists(now, *linked_);
    if (linking) linked_.reset();
    emit sceneChanged();
    if (chosen) emit chosenChanged();
    session_.announce(forgotten);
    if (solo || handled || otherHandles || linking) emit sessionChanged();
}

void Document::renew() {
    emit sceneChanged();
    emit chosenChanged();
    emit frameChanged();
    emit sessionChanged();
}

void Document::choose(ObjectId id) {
    if ((id == chosen_ && selection_.size() < 2) || (id && !scene().find(id))) return;
    history_.seal();
    chosen_ = id;
    selection_.clear();
    if (id) selection_.push_back(id);
    // What several swarms share, or none uses, leaves the rail where it is.
    if (id && scene().find(id) && !(swarm() && uses(swarm(), id)))
        for (const ObjectId swarm : scene().all(ObjectType::swarm))
            if (uses(swarm, id)) swarm_ = swarm;
    const bool placed = id.type() == ObjectType::zone || id.type() == ObjectType::swarm || id.type() == ObjectType::shape ||
                        id.type() == ObjectType::mount || id.type() == ObjectType::force || id.type() == ObjectType::symmetry ||
                        id.type() == ObjectType::light || id.type() == ObjectType::camera;
    handled_ = placed ? id : ObjectId{};
    if (id.type() == ObjectType::gesture) {
        const auto zones = wovenZones(scene(), id);
        handled_ = zones.empty() ? handledGesture(scene(), id) : zones.front();
    }
    emit chosenChanged();
    emit sessionChanged();
}

void Document::select(std::vector<ObjectId> ids) {
    std::erase_if(ids, [this](ObjectId id) { return !scene().find(id); });
    if (ids.size() < 2) return choose(ids.empty() ? ObjectId{} : ids.front());
    if (ids == selection_) return;
    // The last is what rail, handles and settings are of.
    choose(ids.back());
    selection_ = std::move(ids);
    emit chosenChanged();
}

/// Whether a swarm is, owns or refers to what is chosen, through however many things.
bool Document::uses(ObjectId object, ObjectId chosen) const {
    if (object == chosen) return true;
    for (const ObjectId used : usedBy(scene(), object))
        if (used.type() != ObjectType::swarm && uses(used, chosen)) return true;
    return false;
}

ObjectId Document::swarm() const {
    const auto swarms = scene().all(ObjectType::swarm);
    if (std::find(swarms.begin(), swarms.end(), swarm_) != swarms.end()) return swarm_;
    return swarms.empty() ? ObjectId{} : swarms.front();
}

void Document::setHandled(ObjectId object) {
    if (handled_ == object || (object && !scene().find(object))) return;
    handled_ = object;
    emit sessionChanged();
}

void Document::setFrame(double frame) {
    if (frame == frame_) return;
    frame_ = frame;
    history_.seal();
    emit frameChanged();
}

void Document::setSolo(ObjectId railEntry) {
    if (railEntry && !scene().find(railEntry)) return;
    solo_ = railEntry;
    emit sessionChanged();
}

void Document::vary(const Address& number) {
    if (!exists(scene(), number) || !std::holds_alternative<Numbers>(valueOf(scene(), number))) return;
    const Numbers& tracks = numbersAt(scene(), number);
    const double now = valueAt(scene(), tracks[static_cast<std::size_t>(std::max(number.component, 0))], frame_);
    session_.vary({number, toText(scene(), number), standardVariations(parameterAt(scene(), number), now)});
}

void Document::startPick(std::vector<ObjectType> allowed, const Picked& picked) {
    pickTypes_ = std::move(allowed);
    picked_ = picked;
    emit sessionChanged();
}

void Document::cancelPick() {
    if (!picked_) return;
    picked_ = nullptr;
    emit sessionChanged();
}

void Document::startLink(const Address& number) {
    linked_ = number;
    emit sessionChanged();
}

void Document::cancelLink() {
    if (!std::exchange(linked_, std::nullopt)) return;
    emit sessionChanged();
}

void Document::linkTo(const Address& number) {
    if (!linked_) return;
    const Address from = *std::exchange(linked_, std::nullopt);
    edit([&](const Scene& s) { return setLink(s, from, suggestedLink(s, from, number)); });
    history_.seal();
    if (scene().find(from.object)) choose(from.object);
    emit sessionChanged();
}

bool Document::followed(const Address& number) const {
    if (!read_) read_ = numbersRead(scene());
    return !read_->empty() && read_->contains(toText(scene(), number));
}

void Document::setRecording(bool on) {
    recording_ = on;
    emit sessionChanged();
}

bool Document::pickable(ObjectId id) const {
    return picking() && std::find(pickTypes_.begin(), pickTypes_.end(), id.type()) != pickTypes_.end();
}

void Document::click(ObjectId id) {
    if (!picking()) return choose(id);
    if (!pickable(id) || !scene().find(id)) return;
    const Picked picked = std::exchange(picked_, nullptr);
    picked(id);
    emit sessionChanged();
}

void Document::replace(Scene scene, const std::filesystem::path& path) {
    listener_->setFolder(path.empty() ? scratch_ : path.parent_path());
    scene.listening = listener_;
    history_ = History(std::move(scene));
    path_ = path;
    chosen_ = handled_ = solo_ = swarm_ = {};
    selection_.clear();
    picked_ = nullptr;
    linked_.reset();
    recording_ = false;
    session_.reset();
    frame_ = framesOf(this->scene()).first;
    emit trouble({});
    emit projectChanged();
    emit fileChanged();
    emit sceneChanged();
    emit chosenChanged();
    emit frameChanged();
    emit sessionChanged();
}

void Document::newProject() {
    Scene scene = emptyScene();
    savedScene_ = scene;
    replace(std::move(scene), {});
}

bool Document::open(const std::filesystem::path& path) {
    try {
        Scene scene = loadProject(path);
        savedScene_ = scene;
        replace(std::move(scene), path);
        // Of swarms that repeat each other the outermost is what one comes to see.
        const auto swarms = this->scene().all(ObjectType::swarm);
        const auto outermost =
            std::find_if(swarms.begin(), swarms.end(), [&](ObjectId swarm) { return swarmsRepeating(this->scene(), swarm).empty(); });
        if (outermost != swarms.end()) choose(*outermost);
        return true;
    } catch (const Error& error) {
        emit trouble(QString(error.what()) + " The open project is untouched.");
        return false;
    }
}

bool Document::save(const std::filesystem::path& path) {
    try {
        if (path.parent_path() == folder())
            saveProject(scene(), path);
        else
            tellMissing(copyWithFiles(path));
    } catch (const Error& error) {
        emit trouble(error.what());
        return false;
    }
    savedScene_ = scene();
    path_ = path;
    history_.seal();
    emit trouble({});
    emit fileChanged();
    return true;
}

bool Document::saveCopy(const std::filesystem::path& path) {
    try {
        const auto missing = copyWithFiles(path);
        emit told(QString("A copy with all its files is in “%1”.").arg(QString::fromStdString(path.parent_path().string())));
        tellMissing(missing);
        return true;
    } catch (const Error& error) {
        emit trouble(error.what());
        return false;
    }
}

std::vector<std::string> Document::copyWithFiles(const std::filesystem::path& path) {
    Progress progress;
    return copyProject(scene(), folder(), path, progress);
}

void Document::tellMissing(const std::vector<std::string>& missing) {
    if (!missing.empty()) emit told(QString::fromStdString(missing.front()));
}

std::string Document::broughtIn(const std::filesystem::path& file, bool numbered) {
    const std::string name = file.filename().string();
    try {
        if (const auto there = pathWithin(file, folder())) return *there;
        std::filesystem::create_directories(folder());
        const std::string path = (numbered ? bringInNumbered : bringIn)(file, folder(), store_.fileHashes());
        if (!path_.empty()) emit told(QString("“%1” was copied into the project's folder.").arg(QString::fromStdString(name)));
        return path;
    } catch (const Error& error) {
        emit trouble(error.what());
    } catch (const std::filesystem::filesystem_error&) {
        emit trouble(QString("“%1” can't be copied into the project's folder; nothing was changed.").arg(QString::fromStdString(name)));
    }
    return {};
}

void Document::adopt(Scene scene, const std::filesystem::path& path) { replace(std::move(scene), path); }
