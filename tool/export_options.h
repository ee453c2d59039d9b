#pragma once
#include <CLI/CLI.hpp>

#include <map>
#include <set>
#include <string>
#include <vector>

#include "core/exchange/exporter_kind.h"

/// The settings of exporters as options of the command line.
namespace gswarm::tool {

/// Settings of an exporter that were typed, by their ids.
using Given = std::map<std::string, Value>;

/// An option for every setting that some exporters have, once; `given` takes those that were typed.
void addSettings(CLI::App& command, const std::vector<const ExporterKind*>& kinds, const std::set<std::string>& without, Given& given);
/// Throws UsageError for a setting that the exporter does not have.
void checkSettings(const ExporterKind& kind, const Given& given);
/// The options that give them, for a shell: ` --samples '32' --mattes`.
std::string wordsOf(const Given& given);
/// A text as one word of a shell.
std::string shellWord(const std::string& text);

}  // namespace gswarm::tool
