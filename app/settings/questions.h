#pragma once
#include "app/settings/question.h"

/// Makes a question about its subject.
using MakeQuestion = Question* (*)(SettingsDesk&, const Subject&);

/// Of a gesture.
Question* whatChanges(SettingsDesk& desk, const Subject& gesture);
Question* drivenBy(SettingsDesk& desk, const Subject& gesture);
Question* whereItActs(SettingsDesk& desk, const Subject& gesture);
Question* shapedHow(SettingsDesk& desk, const Subject& gesture);
Question* whenItActs(SettingsDesk& desk, const Subject& gesture);

/// Of a swarm.
Question* placeOfSwarm(SettingsDesk& desk, const Subject& swarm);
Question* formationOfSwarm(SettingsDesk& desk, const Subject& swarm);
Question* standingAndOrder(SettingsDesk& desk, const Subject& formation);
Question* stockOfSwarm(SettingsDesk& desk, const Subject& swarm);
Question* howRepeated(SettingsDesk& desk, const Subject& stockEntry);
Question* namedValuesOfSwarm(SettingsDesk& desk, const Subject& swarm);

/// Of a shape: its kind with what can be done with it, and whether it is seen itself; beside what uses it, its kind alone.
Question* shapeItself(SettingsDesk& desk, const Subject& shape);
Question* shapeShown(SettingsDesk& desk, const Subject& shape);
Question* shapeInUse(SettingsDesk& desk, const Subject& shape);

/// Of a stock entry or a shape: what material it has; and of a material itself.
Question* materialInUse(SettingsDesk& desk, const Subject& user);
Question* materialItself(SettingsDesk& desk, const Subject& material);

/// Of media: what they show, and where it comes from.
Question* mediaItself(SettingsDesk& desk, const Subject& media);

/// Of a sound: what it is, and where it lies.
Question* soundItself(SettingsDesk& desk, const Subject& sound);

/// Of anything else, of each of its parts.
Question* partOf(SettingsDesk& desk, const Subject& part);
