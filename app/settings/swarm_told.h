#pragma once
#include <QLabel>

#include "app/settings/settings_desk.h"

/// What the last evaluation says of a swarm: how many instances there are, what stands in the way, what overlaps.
class SwarmTold : public QLabel {
    Q_OBJECT

  public:
    SwarmTold(const SettingsDesk& desk, gswarm::ObjectId swarm, QWidget* parent);
    void tell();

  private:
    const SettingsDesk& desk_;
    gswarm::ObjectId swarm_;
};
