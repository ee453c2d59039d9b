#pragma once
#include "app/settings/settings_desk.h"

/// What can be done with an entry of a weave.
void showWeaveMenu(Document& document, gswarm::ObjectId entry, const QPoint& at, QWidget* parent);

/// New zones for a gesture's weave: the chosen instances, and the kinds that have no button.
void showZoneMenu(SettingsDesk& desk, gswarm::ObjectId gesture, const QPoint& at, QWidget* parent);
