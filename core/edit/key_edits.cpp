#include "core/edit/key_edits.h"

#include <algorithm>
#include <cmath>
#include <map>

#include "core/base/error.h"
#include "core/base/text.h"
#include "core/edit/edit_parts.h"
#include "core/formula/bind.h"
#include "core/formula/number_formula.h"
#include "core/formula/parse.h"
#include "core/resolve/resolve.h"
#include "core/scene/object_kinds.h"
#include "core/time/track.h"

namespace gswarm {

using namespace edits;

namespace {

/// A switch becomes a number, and again a switch once nothing moves it.
void store(Scene& scene, const Address& a, const Track& track) {
    Value& value = valueIn(scene, a);
    if (parameterAt(scene, a).type == ParameterType::toggle) {
        value = track.moves() ? Value(Numbers{track}) : Value(track.value >= 0.5);
        return;
    }
    std::get<Numbers>(value)[static_cast<std::size_t>(std::max(a.component, 0))] = track;
}

Track trackOrSwitch(const Scene& scene, const Address& a) {
    const Value& value = valueOf(scene, a);
    if (const auto* on = std::get_if<bool>(&value)) return Track{*on ? 1.0 : 0.0};
    return trackAt(scene, a);
}

Ease easeFor(const Scene& scene, const Address& a) {
    return parameterAt(scene, a).type == ParameterType::toggle ? Ease::hold : Ease::eased;
}

void check(const Scene& scene, const Address& a) {
    const Parameter& p = parameterAt(scene, a);
    checkValue(p, valueOf(scene, a), "“" + p.label + "” of “" + scene.at(a.object).name + "”");
}

/// The chosen frames of every number, by the number's text.
std::map<std::string, std::pair<Address, std::vector<double>>> byNumber(const Scene& scene, const std::vector<KeyPlace>& keys) {
    std::map<std::string, std::pair<Address, std::vector<double>>> out;
    for (const KeyPlace& key : keys) {
        auto& [address, frames] = out[toText(scene, key.number)];
        address = key.number;
        frames.push_back(key.frame);
    }
    return out;
}

void refuseNone(const std::vector<KeyPlace>& keys) {
    if (keys.empty()) throw Error("No key is chosen; click some in the rows under the time ruler first.");
}

/// Every chosen key becomes what `change` makes of it; chosen keys win over others that stand where they come to.
template <class Change>
Edit changeKeys(const Scene& scene, const std::vector<KeyPlace>& keys, const std::string& what, Change change) {
    refuseNone(keys);
    Edit edit{scene, what, {}, {}};
    for (const auto& [text, number] : byNumber(scene, keys)) {
        const auto& [address, frames] = number;
        const Track track = trackAt(scene, address);
        if (!track.keyed()) continue;
        std::vector<Key> rest, chosen;
        for (const Key& key : *track.keys) {
            if (std::find(frames.begin(), frames.end(), key.frame) == frames.end())
                rest.push_back(key);
            else
                change(key, chosen);
        }
        rest.insert(rest.end(), chosen.begin(), chosen.end());
        Track moved = withKeys(track, std::move(rest));
        if (!moved.keyed()) moved.value = track.keys->back().value;
        store(edit.scene, address, moved);
        check(edit.scene, address);
    }
    const std::size_t count = keys.size();
    edit.label += count == 1 ? " a key of " + nameOf(scene, keys.front().number) : " " + std::to_string(count) + " keys";
    return edit;
}

Ease mirrored(Ease ease) {
    switch (ease) {
        case Ease::slowStart:
            return Ease::slowEnd;
        case Ease::slowEnd:
            return Ease::slowStart;
        case Ease::overshoot:
            return Ease::backFirst;
        case Ease::backFirst:
            return Ease::overshoot;
        default:
            return ease;
    }
}

void refuseCircleOfNumbers(const Scene& scene, const Address& number) {
    if (const std::string circle = circleOfNumbers(scene, number); !circle.empty())
        throw Error("That would make a circle of settings: " + circle + ". It was kept as it was.");
}

void refuseStill(const Scene& scene, const Address& a) {
    const Parameter& p = parameterAt(scene, a);
    if (p.still) throw Error("“" + p.label + "” has one value for the whole project; it was kept.");
}

}  // namespace

std::pair<double, double> spanOf(const std::vector<KeyPlace>& keys) {
    refuseNone(keys);
    const auto [first, last] =
        std::minmax_element(keys.begin(), keys.end(), [](const KeyPlace& a, const KeyPlace& b) { return a.frame < b.frame; });
    return {first->frame, last->frame};
}

std::vector<Address> keyedNumbers(const Scene& scene, ObjectId id) {
    std::vector<Address> out;
    const Object& object = scene.at(id);
    for (std::size_t s = 0; s < object.parts.size(); ++s)
        for (std::size_t p = 0; p < object.parts[s].values.size(); ++p) {
            const auto* numbers = std::get_if<Numbers>(&object.parts[s].values[p]);
            if (!numbers) continue;
            for (std::size_t c = 0; c < numbers->size(); ++c)
                if ((*numbers)[c].keyed())
                    out.push_back({id, static_cast<int>(s), static_cast<int>(p), numbers->size() > 1 ? static_cast<int>(c) : -1});
        }
    return out;
}

const Track& trackAt(const Scene& scene, const Address& a) {
    const auto* numbers = std::get_if<Numbers>(&valueOf(scene, a));
    if (!numbers || (numbers->size() > 1 && a.component < 0)) throw Error("“" + toText(scene, a) + "” is not one number.");
    return (*numbers)[static_cast<std::size_t>(std::max(a.component, 0))];
}

std::vector<KeyPlace> keysAt(const Scene& scene, ObjectId object, double frame) {
    std::vector<KeyPlace> out;
    for (const Address& number : keyedNumbers(scene, object))
        for (const Key& key : *trackAt(scene, number).keys)
            if (key.frame == frame) out.push_back({number, frame});
    return out;
}

Edit toggleKey(const Scene& scene, const Address& a, double frame) {
    refuseStill(scene, a);
    std::vector<Address> numbers;
    const int components = std::max(parameterAt(scene, a).components, 1);
    for (int c = 0; c < components; ++c)
        if (a.component < 0 || a.component == c) numbers.push_back({a.object, a.slot, a.parameter, components > 1 ? c : -1});
    const auto keyHere = [&](const Address& number) {
        const Track track = trackOrSwitch(scene, number);
        return track.keyed() && std::any_of(track.keys->begin(), track.keys->end(), [frame](const Key& k) { return k.frame == frame; });
    };
    const bool present = std::all_of(numbers.begin(), numbers.end(), keyHere);
    char at[32];
    std::snprintf(at, sizeof at, "%.4g", frame);
    Edit edit{scene, (present ? "Remove key of " : "Key ") + nameOf(scene, a) + " at " + at, {}, {}};
    for (const Address& number : numbers) {
        const Track track = trackOrSwitch(scene, number);
        store(edit.scene, number,
              present ? withoutKey(track, frame) : withKey(track, frame, valueAt(scene, track, frame), easeFor(scene, number)));
    }
    return edit;
}

Edit setSwitch(const Scene& scene, const Address& a, bool on, double frame) {
    const Track track = trackOrSwitch(scene, a);
    if (!track.moves()) return setValue(scene, a, on);
    if (!track.keyed()) throw Error(nameOf(scene, a) + " is moved by a formula or a link; make it fixed first.");
    Edit edit{scene, scene.at(a.object).name + ": " + parameterAt(scene, a).label + (on ? " on" : " off"), {}, {}};
    store(edit.scene, a, withKey(track, frame, on ? 1 : 0, Ease::hold));
    return edit;
}

Edit setKey(const Scene& scene, const Address& number, double frame, const Key& key) {
    Edit edit = changeKeys(scene, {{number, frame}}, "Change", [&](const Key&, std::vector<Key>& to) { to.push_back(key); });
    edit.mergeKey = "key " + toText(scene, number);
    return edit;
}

Edit removeKeys(const Scene& scene, const std::vector<KeyPlace>& keys) {
    return changeKeys(scene, keys, "Delete", [](const Key&, std::vector<Key>&) {});
}

Edit moveKeys(const Scene& scene, const std::vector<KeyPlace>& keys, double by) {
    return changeKeys(scene, keys, "Move", [by](Key key, std::vector<Key>& to) {
        key.frame += by;
        to.push_back(key);
    });
}

Edit stretchKeys(const Scene& scene, const std::vector<KeyPlace>& keys, double about, double factor) {
    return changeKeys(scene, keys, "Stretch", [&](Key key, std::vector<Key>& to) {
        key.frame = std::round(about + (key.frame - about) * factor);
        if (factor != 0) key.in /= factor, key.out /= factor;
        to.push_back(key);
    });
}

Edit mirrorKeys(const Scene& scene, const std::vector<KeyPlace>& keys) {
    const auto [first, last] = spanOf(keys);
    const double sum = first + last;
    Edit edit{scene, "Mirror " + counted(keys.size(), "key", "keys"), {}, {}};
    for (const auto& [text, number] : byNumber(scene, keys)) {
        const auto& [address, frames] = number;
        const Track track = trackAt(scene, address);
        std::vector<Key> rest, turned;
        for (std::size_t k = 0; k < track.keys->size(); ++k) {
            Key key = (*track.keys)[k];
            if (std::find(frames.begin(), frames.end(), key.frame) == frames.end()) {
                rest.push_back(key);
                continue;
            }
            key.frame = sum - key.frame;
            std::swap(key.in, key.out);
            key.in = -key.in, key.out = -key.out;
            // The way that led to this key now leaves it.
            key.ease = mirrored(k > 0 ? (*track.keys)[k - 1].ease : key.ease);
            turned.push_back(key);
        }
        rest.insert(rest.end(), turned.begin(), turned.end());
        store(edit.scene, address, withKeys(track, std::move(rest)));
    }
    return edit;
}

Edit snapKeys(const Scene& scene, const std::vector<KeyPlace>& keys) {
    return changeKeys(scene, keys, "Snap", [](Key key, std::vector<Key>& to) {
        key.frame = std::round(key.frame);
        to.push_back(key);
    });
}

Edit setKeyEase(const Scene& scene, const std::vector<KeyPlace>& keys, Ease ease) {
    return changeKeys(scene, keys, std::string("Ease (") + easeNames[static_cast<std::size_t>(ease)] + ") of",
                      [ease](Key key, std::vector<Key>& to) {
                          key.ease = ease;
                          to.push_back(key);
                      });
}

Edit setBeyond(const Scene& scene, const std::vector<Address>& numbers, Beyond before, Beyond after) {
    Edit edit{scene, "Before and after the keys", {}, {}};
    if (numbers.size() == 1) edit.label += " of " + nameOf(scene, numbers.front());
    for (const Address& number : numbers) {
        Track track = trackAt(scene, number);
        track.before = before;
        track.after = after;
        store(edit.scene, number, track);
    }
    return edit;
}

CopiedKeys copyKeys(const Scene& scene, const std::vector<KeyPlace>& keys) {
    CopiedKeys copied;
    if (keys.empty()) return copied;
    const double first = spanOf(keys).first;
    for (const auto& [text, number] : byNumber(scene, keys)) {
        const auto& [address, frames] = number;
        const std::string& prefix = classOf(address.object.type()).slotInfos[static_cast<std::size_t>(address.slot)].prefix;
        CopiedKeys::Number out{address, prefix + parameterAt(scene, address).id, {}};
        for (Key key : *trackAt(scene, address).keys)
            if (std::find(frames.begin(), frames.end(), key.frame) != frames.end()) {
                key.frame -= first;
                out.keys.push_back(key);
            }
        copied.numbers.push_back(std::move(out));
    }
    return copied;
}

Edit pasteKeys(const Scene& scene, const CopiedKeys& copied, ObjectId onto, double frame) {
    Edit edit{scene, "Paste keys", {}, {}};
    int pasted = 0;
    for (const CopiedKeys::Number& number : copied.numbers) {
        Address address = number.from;
        try {
            if (onto) address = addressOf(scene, onto, number.parameter, number.from.component);
            if (!scene.find(address.object)) continue;
            valueOf(scene, address);
        } catch (const Error&) {
            continue;
        }
        Track track = trackOrSwitch(edit.scene, address);
        std::vector<Key> keys = track.keyed() ? *track.keys : std::vector<Key>();
        for (Key key : number.keys) {
            key.frame += frame;
            keys.push_back(key);
        }
        store(edit.scene, address, withKeys(track, std::move(keys)));
        check(edit.scene, address);
        ++pasted;
    }
    if (pasted == 0) throw Error("No setting here is called like those that were copied; choose where they came from, or its like.");
    return edit;
}

Edit setFormula(const Scene& scene, const Address& a, const std::string& text) {
    refuseStill(scene, a);
    const Formula formula = boundFormula(scene, text);
    if (formula.names.size() > static_cast<std::size_t>(mostFormulaNames))
        throw Error("The formula names more than " + std::to_string(mostFormulaNames) + " other settings; divide it.");
    const Parameter& p = parameterAt(scene, a);
    if (numberFormula(formula)->readsInstance && !p.perInstance)
        throw FormulaError("“" + p.label + "” is the same for all instances: only t, frame, loop and other settings can move it.", 0);
    Track track = trackOrSwitch(scene, a);
    track = Track{track.value};
    track.formula = std::make_shared<const Formula>(formula);
    Edit edit{scene, nameOf(scene, a) + " = " + (text.size() > 40 ? "…" : text), "formula " + toText(scene, a), {}};
    store(edit.scene, a, track);
    check(edit.scene, a);
    refuseCircleOfNumbers(edit.scene, a);
    return edit;
}

Edit setLink(const Scene& scene, const Address& a, const Link& link) {
    refuseStill(scene, a);
    if (!valueAtAddress(scene, link.to, 0)) throw Error("That is no setting that could be followed; nothing was linked.");
    Track track = Track{trackOrSwitch(scene, a).value};
    track.link = std::make_shared<const Link>(link);
    Edit edit{scene, nameOf(scene, a) + " follows " + nameOf(scene, parseAddress(scene, link.to)), "link " + toText(scene, a), {}};
    store(edit.scene, a, track);
    check(edit.scene, a);
    refuseCircleOfNumbers(edit.scene, a);
    return edit;
}

Link suggestedLink(const Scene& scene, const Address& number, const Address& to) {
    const auto rangeOf = [&](const Address& a) {
        const Parameter& p = parameterAt(scene, a);
        return p.type == ParameterType::toggle || p.type == ParameterType::colour ? Range{0, 1} : p.suggested;
    };
    const Range from = rangeOf(to), into = rangeOf(number);
    return {toText(scene, to), from.low, from.high, into.low, into.high, {}, false, 0, 0};
}

Edit setFixed(const Scene& scene, const Address& a, double frame) {
    const Track track = trackOrSwitch(scene, a);
    Edit edit{scene, nameOf(scene, a) + ": fixed", {}, {}};
    store(edit.scene, a, Track{valueAt(scene, track, frame)});
    return edit;
}

namespace {

/// Calls `take` with the address of every number and what it follows or names.
template <class Take>
void forReaders(const Scene& scene, const Take& take) {
    for (const auto& [id, object] : scene.objects)
        for (std::size_t s = 0; s < object->parts.size(); ++s)
            for (std::size_t p = 0; p < object->parts[s].values.size(); ++p) {
                const auto* numbers = std::get_if<Numbers>(&object->parts[s].values[p]);
                if (!numbers) continue;
                for (std::size_t c = 0; c < numbers->size(); ++c) {
                    const int component = numbers->size() > 1 ? static_cast<int>(c) : -1;
                    take(Address{id, static_cast<int>(s), static_cast<int>(p), component}, readBy((*numbers)[c]));
                }
            }
}

}  // namespace

std::vector<Address> readersOf(const Scene& scene, const Address& number) {
    const std::string wanted = toText(scene, number);
    std::vector<Address> out;
    forReaders(scene, [&](const Address& reader, const std::vector<std::string>& read) {
        if (std::find(read.begin(), read.end(), wanted) != read.end()) out.push_back(reader);
    });
    return out;
}

std::set<std::string> numbersRead(const Scene& scene) {
    std::set<std::string> all;
    forReaders(scene, [&](const Address&, const std::vector<std::string>& read) { all.insert(read.begin(), read.end()); });
    return all;
}

Edit setRate(const Scene& scene, const std::string& rate, RateKeeps keeps) {
    const double before = momentAt(scene, 0).rate;
    Edit edit = setValue(scene, addressOf(scene, scene.project().id, "rate"), rate);
    edit.mergeKey.clear();
    if (keeps == RateKeeps::frames) return edit;
    const double factor = parseRate(rate) / before;
    for (const auto& [id, object] : scene.objects) {
        Object& to = changed(edit.scene, id);
        for (Part& part : to.parts)
            for (std::size_t v = 0; v < part.values.size(); ++v) {
                auto* numbers = std::get_if<Numbers>(&part.values[v]);
                if (!numbers) continue;
                const Parameter& p = part.kind->parameters[v];
                const bool inFrames = p.unit == "frames" || p.unit == "frame";
                for (Track& track : *numbers) {
                    if (inFrames) track = scaledTrack(track, factor);
                    if (inFrames && p.still) track.value = std::round(track.value);
                    if (track.keyed()) {
                        std::vector<Key> keys = *track.keys;
                        for (Key& key : keys) key.frame *= factor, key.in /= factor, key.out /= factor;
                        track = withKeys(track, std::move(keys));
                    }
                    if (track.link) {
                        Link link = *track.link;
                        link.delay *= factor;
                        track.link = std::make_shared<const Link>(link);
                    }
                }
            }
    }
    edit.label += ", seconds kept";
    return edit;
}

}  // namespace gswarm
