#include "app/document/tally_text.h"

#include <algorithm>
#include <cmath>
#include <glm/gtc/quaternion.hpp>
#include <QColor>

#include "app/theme/theme.h"
#include "core/base/turns.h"
#include "core/read/ledger.h"

using namespace gswarm;

namespace {

double shown(double v) { return std::round(v * 1000) / 1000; }
QString number(double v) { return QString::number(shown(v) == 0 ? 0.0 : shown(v)); }
QString withSign(double v) { return v < 0 ? "−" + number(-v) : "+" + number(v); }
QString three(const glm::vec3& v) { return QString("%1 %2 %3").arg(number(v.x), number(v.y), number(v.z)); }
QString named(const glm::vec3& v) { return QString("X %1 Y %2 Z %3").arg(number(v.x), number(v.y), number(v.z)); }
/// What rounds to nothing is none.
bool changed(float a, float b) { return shown(b - a) != 0; }
bool changed(const glm::vec3& a, const glm::vec3& b) { return changed(a.x, b.x) || changed(a.y, b.y) || changed(a.z, b.z); }

QString placesAdded(const glm::vec3& by) {
    QStringList parts;
    for (int a = 0; a < 3; ++a)
        if (shown(by[a]) != 0) parts << QString("XYZ"[a]) + " " + withSign(by[a]);
    return parts.join("  ") + " m";
}

QString factors(const glm::vec3& before, const glm::vec3& after) {
    const auto factor = [](float a, float b) { return a == 0 ? QString("from 0") : number(b / a); };
    const QString x = factor(before.x, after.x), y = factor(before.y, after.y), z = factor(before.z, after.z);
    return "× " + (x == y && y == z ? x : x + " " + y + " " + z);
}

QColor colourOf(const glm::vec4& c) {
    const auto channel = [](float v) { return std::clamp(v, 0.0f, 1.0f); };
    return QColor::fromRgbF(channel(c.x), channel(c.y), channel(c.z));
}

float degreesBetween(const glm::quat& a, const glm::quat& b) {
    return 2 * std::acos(std::min(1.0f, std::abs(glm::dot(a, b)))) * 57.2957795f;
}

}  // namespace

TallyText tallyText(const TallyRow* before, const TallyRow& after, const QStringList& numbers) {
    const InstanceRow& now = after.instance;
    QString tip = QString("position %1 m\nrotation %2 °\nscale %3\ncolour %4%5\nweight %6")
                      .arg(named(now.position), named(degreesOf(now.rotation)), three(now.scale), colourOf(now.colour).name(),
                           now.shown ? "" : "\nnot shown", number(after.weight));
    const auto values = std::min(now.named.size(), static_cast<std::size_t>(numbers.size()));
    const auto nameOf = [&](std::size_t k) { return numbers[static_cast<int>(k)]; };
    for (std::size_t k = 0; k < values; ++k) tip += "\n" + nameOf(k) + " " + number(now.named[k]);
    if (!before) return {"home", named(now.position) + " m", tip};
    const InstanceRow& was = before->instance;
    std::vector<std::pair<QString, QString>> changes;
    if (changed(was.position, now.position)) changes.push_back({placesAdded(now.position - was.position), named(now.position) + " m"});
    if (const float turned = degreesBetween(was.rotation, now.rotation); turned > 0.05f)
        changes.push_back(
            {"turned " + number(std::round(turned * 10) / 10) + "°", three(glm::round(degreesOf(now.rotation) * 10.0f) / 10.0f) + "°"});
    if (changed(was.scale, now.scale)) changes.push_back({factors(was.scale, now.scale), three(now.scale)});
    if (changed(glm::vec3(was.colour), glm::vec3(now.colour)) || changed(was.colour.w, now.colour.w))
        changes.push_back({"coloured", colourOf(now.colour).name()});
    for (std::size_t k = 0; k < std::min(was.named.size(), values); ++k)
        if (changed(was.named[k], now.named[k]))
            changes.push_back({nameOf(k) + " " + withSign(now.named[k] - was.named[k]), number(now.named[k])});
    if (was.shape != now.shape) changes.push_back({"shape", QString::fromStdString(now.shape)});
    if (was.shown != now.shown) changes.push_back({now.shown ? "shown again" : "hidden", {}});
    if (changes.empty()) return {"unchanged", "weight " + number(after.weight), tip};
    QString all;
    for (const auto& [added, value] : changes) all += added + "\n";
    return {changes.front().first + (changes.size() > 1 ? " …" : ""), changes.front().second, all + "\n" + tip};
}

QString notFiniteText(int count) {
    return count == 1 ? QString("Not a valid number on one instance: it keeps what it had before this card.")
                      : "Not a valid number on " + theme::grouped(count) + " instances: they keep what they had before this card.";
}
