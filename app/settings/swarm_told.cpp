#include "app/settings/swarm_told.h"

#include "app/document/evaluation.h"
#include "app/theme/theme.h"

using namespace gswarm;

SwarmTold::SwarmTold(const SettingsDesk& desk, ObjectId swarm, QWidget* parent) : QLabel(parent), desk_(desk), swarm_(swarm) {
    setObjectName("told");
    setWordWrap(true);
}

void SwarmTold::tell() {
    const auto latest = desk_.evaluation.latest();
    const auto result = desk_.evaluation.resultOf(swarm_);
    if (latest && latest->problems.contains(swarm_)) {
        setStyleSheet("color: #f08a72;");
        return setText(latest->problems.at(swarm_));
    }
    setStyleSheet("color: #a3967f;");
    if (!result) return setText("…");
    QString text = theme::counted(result->count, "instance");
    if (result->leaves > static_cast<std::uint64_t>(result->count) * result->copies.size())
        text += ", " + theme::counted(static_cast<qint64>(result->leaves), "shape") + " in all";
    if (const int overlaps = desk_.evaluation.overlapsOf(swarm_); overlaps >= 0)
        text += overlaps == 0 ? ", none overlap" : ", " + theme::grouped(overlaps) + " overlap";
    for (const auto& note : result->notes) text += "\n" + said(note);
    setText(text);
}
