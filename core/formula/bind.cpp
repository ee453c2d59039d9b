#include "core/formula/bind.h"

#include <algorithm>
#include <set>

#include "core/formula/parse.h"
#include "core/scene/address.h"

namespace gswarm {
namespace {

bool isShortName(const std::string& name) {
    const auto& names = formulaNames();
    return std::any_of(names.begin(), names.end(), [&](const FormulaName& n) { return n.name == name; });
}

/// "'Ball zone'.radius" → "Ball zone" and "radius".
std::pair<std::string, std::string> split(const std::string& written) {
    if (written.front() == '\'') {
        const auto close = written.find('\'', 1);
        const std::string rest = close + 1 < written.size() ? written.substr(close + 2) : "";
        return {written.substr(1, close - 1), rest};
    }
    const auto point = written.find('.');
    return {written.substr(0, point), point == std::string::npos ? "" : written.substr(point + 1)};
}

std::string withoutQuotes(std::string text) {
    std::erase(text, '\'');
    return text;
}

std::vector<ObjectId> calledThat(const Scene& scene, const std::string& name, bool number) {
    std::vector<ObjectId> found;
    if (const ObjectId id = parseObjectId(name); id && scene.find(id)) return {id};
    for (const auto& [id, object] : scene.objects)
        if (object->name == name && (id.type() == ObjectType::namedValue) == number &&
            (number || std::find(scene.order.begin(), scene.order.end(), id) != scene.order.end()))
            found.push_back(id);
    return found;
}

std::string addressFor(const Scene& scene, const Token& token) {
    const auto [name, rest] = split(token.text);
    const auto found = calledThat(scene, name, rest.empty());
    if (found.empty()) throw FormulaError("There is nothing called “" + name + "” here.", token.place);
    if (rest.empty()) return toText(found.front()) + "/standard";
    if (found.size() > 1) throw FormulaError("Several things are called “" + name + "”; rename one of them first.", token.place);
    try {
        const Address address = parseAddress(scene, toText(found.front()) + "/" + withoutQuotes(rest));
        const Parameter& p = parameterAt(scene, address);
        if (!p.numeric() || (p.components > 1 && address.component < 0)) throw Error("");
        return toText(scene, address);
    } catch (const Error&) {
        throw FormulaError("“" + name + "” has no setting called “" + rest + "”.", token.place);
    }
}

}  // namespace

std::string inFormula(const std::string& name) {
    const bool taken = isShortName(name) || findFormulaFunction(name) || name == "pi";
    const bool plain =
        !name.empty() && !taken && !std::isdigit(static_cast<unsigned char>(name.front())) &&
        std::all_of(name.begin(), name.end(), [](char c) { return std::isalnum(static_cast<unsigned char>(c)) || c == '_'; });
    return plain ? name : "'" + name + "'";
}

std::string renamedPath(const std::string& written, const std::string& address, const std::string& newAddress) {
    const auto [name, rest] = split(written);
    if (rest.empty()) return isShortName(written) || findFormulaFunction(written) ? "'" + written + "'" : written;
    if (address == newAddress) return written;
    const std::string parameter = newAddress.substr(newAddress.find('/') + 1);
    const auto point = parameter.find('.');
    return written.substr(0, written.size() - rest.size()) + inFormula(parameter.substr(0, point)) +
           (point == std::string::npos ? "" : parameter.substr(point));
}

namespace {

Formula withNames(const Scene& scene, std::string_view text) {
    Formula formula{std::string(text), {}};
    for (const Token& token : tokensOf(text)) {
        if (token.type != Token::Type::name || isShortName(token.text) || findFormulaFunction(token.text) || token.text == "pi") continue;
        const bool known = std::any_of(formula.names.begin(), formula.names.end(), [&](const auto& n) { return n.first == token.text; });
        if (!known) formula.names.push_back({token.text, addressFor(scene, token)});
    }
    return formula;
}

}  // namespace

Formula boundFormula(const Scene& scene, std::string_view text) {
    parseFormula(text);
    return withNames(scene, text);
}

Formula boundCondition(const Scene& scene, std::string_view text) {
    parseCondition(text);
    return withNames(scene, text);
}

Formula renamedIn(const Formula& formula, ObjectId object, const std::string& name) {
    const std::string start = toText(object) + "/";
    Formula out{{}, formula.names};
    std::size_t copied = 0;
    std::vector<Token> tokens;
    try {
        tokens = tokensOf(formula.text);
    } catch (const FormulaError&) {
        return formula;  // what can't be read has no names
    }
    for (const Token& token : tokens) {
        const auto found = std::find_if(formula.names.begin(), formula.names.end(), [&](const auto& n) { return n.first == token.text; });
        if (token.type != Token::Type::name || found == formula.names.end() || !found->second.starts_with(start)) continue;
        const std::string rest = split(token.text).second;
        const std::string called = name.find('\'') == std::string::npos ? inFormula(name) : toText(object);
        const std::string written = called + (rest.empty() ? "" : "." + rest);
        out.text += formula.text.substr(copied, token.place - copied) + written;
        copied = token.place + token.text.size();
        out.names[static_cast<std::size_t>(found - formula.names.begin())].first = written;
    }
    out.text += formula.text.substr(copied);
    return out;
}

std::vector<std::string> reachableNames(const Scene& scene) {
    std::set<std::string> names;
    for (const auto& [id, object] : scene.objects) {
        if (object->name.find('\'') != std::string::npos) continue;
        if (id.type() == ObjectType::namedValue) names.insert(inFormula(object->name));
        if (std::find(scene.order.begin(), scene.order.end(), id) == scene.order.end()) continue;
        const auto& slots = classOf(id.type()).slotInfos;
        for (std::size_t s = 0; s < object->parts.size(); ++s)
            for (const Parameter& p : object->parts[s].kind->parameters) {
                if (!p.numeric()) continue;
                const std::string start = inFormula(object->name) + "." + inFormula(slots[s].prefix + p.id);
                const char* letters = p.type == ParameterType::colour ? "rgba" : "xyz";
                for (int c = 0; c < p.components; ++c) names.insert(p.components == 1 ? start : start + "." + letters[c]);
            }
    }
    return {names.begin(), names.end()};
}

}  // namespace gswarm
