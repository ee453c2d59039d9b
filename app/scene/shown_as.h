#pragma once
#include <QString>

#include "core/edit/edit.h"

/// How a thing itself is seen: "shown", "dimmed" or "hidden", which are the names of its icons too; empty for what has no such
/// switch.
QString shownAs(const gswarm::Scene& scene, gswarm::ObjectId id);
/// Shown, dimmed, hidden, and around again: the next of what a thing has.
gswarm::Edit withNextShown(const gswarm::Scene& scene, gswarm::ObjectId id, double frame);
