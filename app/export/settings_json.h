#pragma once
#include <cstdint>
#include <nlohmann/json_fwd.hpp>

#include "core/exchange/exporter_kind.h"

/// Of a file that keeps settings.
inline constexpr std::uintmax_t mostSettingsBytes = 1 << 20;

/// What an exporter is told, with its kind, as it is kept in files.
nlohmann::json settingsJson(const gswarm::Part& settings);
/// Settings that the kind does not have are passed over; those that are missing stand as they begin. Throws an exception of the
/// library's, or Error for an exporter that there is not.
gswarm::Part settingsFrom(const nlohmann::json& json);
