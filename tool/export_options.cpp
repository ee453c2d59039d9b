#include "tool/export_options.h"

#include <sstream>

#include "tool/usage.h"

namespace gswarm::tool {
namespace {

void addSetting(CLI::App& command, const Parameter& p, Given& given) {
    if (p.type == ParameterType::toggle) {
        // What is on unless it is switched off is typed as --depth=off.
        command.add_flag_function(
            "--" + p.id, [&given, id = p.id](std::int64_t on) { given[id] = on > 0; }, p.summary);
        return;
    }
    if (p.type == ParameterType::choice) {
        std::vector<std::string> ids;
        for (const Choice& choice : p.choices) ids.push_back(choice.id);
        const auto choose = [&given, id = p.id](const std::string& choice) { given[id] = choice; };
        command.add_option_function<std::string>("--" + p.id, choose, p.summary)
            ->check(CLI::IsMember(ids))
            ->default_str(std::get<std::string>(p.standard));
        return;
    }
    if (p.type == ParameterType::text) {
        command.add_option_function<std::string>(
            "--" + p.id, [&given, id = p.id](const std::string& text) { given[id] = text; }, p.summary);
        return;
    }
    const auto low = static_cast<long long>(p.hard.low), high = static_cast<long long>(p.hard.high);
    const auto take = [&given, id = p.id](double value) { given[id] = fixedNumbers({value}); };
    CLI::Option* option =
        command.add_option_function<double>("--" + p.id, take, p.summary + ", " + std::to_string(low) + " to " + std::to_string(high));
    std::ostringstream standard;
    standard << std::get<Numbers>(p.standard).front().value;
    option->default_str(standard.str());
    if (p.type == ParameterType::whole)
        option->check(wholeBetween(low, high));
    else
        option->check(CLI::Range(p.hard.low, p.hard.high));
}

}  // namespace

void addSettings(CLI::App& command, const std::vector<const ExporterKind*>& kinds, const std::set<std::string>& without, Given& given) {
    std::set<std::string> known = without;
    for (const ExporterKind* kind : kinds)
        for (const Parameter& p : kind->parameters)
            if (known.insert(p.id).second) addSetting(command, p, given);
}

void checkSettings(const ExporterKind& kind, const Given& given) {
    for (const auto& [id, value] : given)
        if (kind.indexOf(id) < 0) throw UsageError("--" + id + ": “" + kind.id + "” has no such setting.");
}

std::string shellWord(const std::string& text) {
    std::string word = "'";
    for (const char c : text) word += c == '\'' ? "'\\''" : std::string(1, c);
    return word + "'";
}

std::string wordsOf(const Given& given) {
    std::ostringstream words;
    for (const auto& [id, value] : given) {
        words << " --" << id;
        if (const auto* on = std::get_if<bool>(&value))
            words << (*on ? "" : "=off");
        else if (const auto* text = std::get_if<std::string>(&value))
            words << ' ' << shellWord(*text);
        else
            words << ' ' << std::get<Numbers>(value).front().value;
    }
    return words.str();
}

}  // namespace gswarm::tool
