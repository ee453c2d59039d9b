#include "core/resolve/resolve.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <set>

#include "core/base/error.h"
#include "core/formula/number_formula.h"
#include "core/formula/parse.h"
#include "core/response/response.h"
#include "core/time/track.h"

namespace gswarm {
namespace {

/// Chains longer than this come only from files that were not checked; what stands beyond keeps its own value.
constexpr int deepestChain = 64;

/// Numbers that were read on the way to one, so that what many formulas name is worked out once.
using Known = std::map<std::pair<std::string, double>, std::optional<double>>;

std::optional<double> addressed(const Scene& scene, const std::string& address, double frame, int depth, Known& known);

double followed(const Scene& scene, const Track& track, double frame, int depth, Known& known) {
    if (track.keyed()) return keyedValueAt(track, frame);
    if (!track.moves() || depth > deepestChain) return track.value;
    if (track.link) {
        const auto value = addressed(scene, track.link->to, frame - track.link->delay, depth + 1, known);
        return value ? throughLink(*track.link, *value) : track.value;
    }
    try {
        const auto formula = numberFormula(*track.formula);
        if (formula->readsInstance) return track.value;
        std::vector<double> names;
        for (const auto& [name, address] : track.formula->names) {
            const auto value = addressed(scene, address, frame, depth + 1, known);
            if (!value) return track.value;
            names.push_back(*value);
        }
        const double value = runNumber(*formula, momentAt(scene, frame), names);
        return std::isfinite(value) ? value : track.value;
    } catch (const FormulaError&) {
        return track.value;
    }
}

/// The track behind an address that names one number.
const Track* trackBehind(const Scene& scene, const std::string& text) {
    try {
        const Address address = parseAddress(scene, text);
        const auto* numbers = std::get_if<Numbers>(&valueOf(scene, address));
        return numbers ? &(*numbers)[static_cast<std::size_t>(std::max(address.component, 0))] : nullptr;
    } catch (const Error&) {
        return nullptr;
    }
}

/// What is heard behind an address, where it is of that.
std::optional<double> heardAt(const Scene& scene, const std::string& text, double frame) {
    if (text.empty() || text[0] != static_cast<char>(ObjectType::sound)) return std::nullopt;
    try {
        const Address address = parseAddress(scene, text);
        const Parameter& p = parameterAt(scene, address);
        if (!p.heard) return std::nullopt;
        return scene.listening ? scene.listening->heard(scene, address.object, p.id, frame) : 0;
    } catch (const Error&) {
        return std::nullopt;
    }
}

std::optional<double> addressed(const Scene& scene, const std::string& text, double frame, int depth, Known& known) {
    if (const auto found = known.find({text, frame}); found != known.end()) return found->second;
    std::optional<double> value;
    if (const auto heard = heardAt(scene, text, frame)) {
        value = heard;
    } else if (const Track* track = trackBehind(scene, text)) {
        value = followed(scene, *track, frame, depth, known);
    } else {
        try {
            if (const auto* on = std::get_if<bool>(&valueOf(scene, parseAddress(scene, text)))) value = *on;
        } catch (const Error&) {
            // There is no such number.
        }
    }
    return known[{text, frame}] = value;
}

}  // namespace

double throughLink(const Link& link, double followed) {
    const double span = link.fromHigh - link.fromLow;
    double share = span == 0 ? 0 : (followed - link.fromLow) / span;
    if (!link.curve.empty()) {
        Response bend{};
        bend.inHigh = bend.outHigh = 1;
        bend.curve = ResponseCurve::drawn;
        bend.table = tableOf(link.curve);
        share = respondOne(bend, false, static_cast<float>(share));
    }
    if (link.clip) share = std::clamp(share, 0.0, 1.0);
    const double out = link.toLow + (link.toHigh - link.toLow) * share;
    return link.step > 0 ? std::round(out / link.step) * link.step : out;
}

double valueAt(const Scene& scene, const Track& track, double frame) {
    Known known;
    return followed(scene, track, frame, 0, known);
}
std::optional<double> valueAtAddress(const Scene& scene, const std::string& address, double frame) {
    Known known;
    return addressed(scene, address, frame, 0, known);
}

ResolvedPart resolve(const Scene& scene, const Part& part, double frame) {
    return resolvedWith(part, [&](const Track& track) { return valueAt(scene, track, frame); });
}

double numberAt(const Scene& scene, const Part& part, std::string_view parameter, double frame, int component) {
    return valueAt(scene, std::get<Numbers>(part[parameter])[static_cast<std::size_t>(component)], frame);
}

bool switchAt(const Scene& scene, const Part& part, std::string_view parameter, double frame) {
    const Value& value = part[parameter];
    if (const auto* on = std::get_if<bool>(&value)) return *on;
    return valueAt(scene, std::get<Numbers>(value).front(), frame) >= 0.5;
}

std::string troubleOf(const Scene& scene, const Track& track, double frame) {
    const auto gone = [&](const std::string& address) { return !valueAtAddress(scene, address, frame); };
    const std::string kept = "; it keeps its own value until you choose another.";
    if (track.link && gone(track.link->to)) return "What it is linked to was deleted" + kept;
    if (!track.formula) return {};
    for (const auto& [name, address] : track.formula->names)
        if (gone(address)) return "“" + name + "” in its formula was deleted" + kept;
    try {
        const auto formula = numberFormula(*track.formula);
        if (formula->readsInstance) return {};
        std::vector<double> names;
        for (const auto& [name, address] : track.formula->names) names.push_back(*valueAtAddress(scene, address, frame));
        if (!std::isfinite(runNumber(*formula, momentAt(scene, frame), names)))
            return "Its formula gives no valid number at this frame; it keeps its own value there.";
    } catch (const FormulaError& error) {
        return error.what();
    }
    return {};
}

std::vector<std::string> readBy(const Track& track) {
    std::vector<std::string> out;
    if (track.link) out.push_back(track.link->to);
    if (track.formula)
        for (const auto& [name, address] : track.formula->names) out.push_back(address);
    return out;
}

bool moves(const Part& part) {
    return std::any_of(part.values.begin(), part.values.end(), [](const Value& value) {
        const auto* numbers = std::get_if<Numbers>(&value);
        return numbers && std::any_of(numbers->begin(), numbers->end(), [](const Track& t) { return t.moves(); });
    });
}

std::string nameOf(const Scene& scene, const Address& address) {
    const Parameter& p = parameterAt(scene, address);
    std::string label = p.label;
    if (!label.empty()) label[0] = static_cast<char>(std::tolower(static_cast<unsigned char>(label[0])));
    std::string name = scene.at(address.object).name + " " + label;
    if (address.component >= 0 && p.components > 1) (name += ' ') += (p.type == ParameterType::colour ? "rgba" : "xyz")[address.component];
    return name;
}

namespace {

/// Depth first from one number; `way` holds the texts of the addresses so far.
bool comesBack(const Scene& scene, const std::string& from, const std::string& wanted, std::vector<std::string>& way,
               std::set<std::string>& done) {
    const Track* track = trackBehind(scene, from);
    if (!track || way.size() > deepestChain) return false;
    for (const std::string& next : readBy(*track)) {
        way.push_back(next);
        if (next == wanted || (done.insert(next).second && comesBack(scene, next, wanted, way, done))) return true;
        way.pop_back();
    }
    return false;
}

}  // namespace

std::string circleOfNumbers(const Scene& scene, const Address& start) {
    const auto* numbers = std::get_if<Numbers>(&valueOf(scene, start));
    if (!numbers) return {};
    for (int c = 0; c < static_cast<int>(numbers->size()); ++c) {
        Address one = start;
        one.component = parameterAt(scene, start).components > 1 ? c : -1;
        const std::string wanted = toText(scene, one);
        std::vector<std::string> way;
        std::set<std::string> done;
        if (!comesBack(scene, wanted, wanted, way, done)) continue;
        std::string names = nameOf(scene, one);
        for (const std::string& address : way) names += " → " + nameOf(scene, parseAddress(scene, address));
        return names;
    }
    return {};
}

}  // namespace gswarm
