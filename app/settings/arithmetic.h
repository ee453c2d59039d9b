#pragma once
#include <optional>
#include <QString>

/// The number a person typed: arithmetic with + − * / and brackets, and units: m, cm, mm for lengths, ° or deg and
/// turns for angles, f and s for times, %. Empty if it is none or not finite.
std::optional<double> arithmetic(const QString& typed, const QString& unit, double framesPerSecond);
