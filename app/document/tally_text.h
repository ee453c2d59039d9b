#pragma once
#include <QString>
#include <QStringList>

#include "core/read/table.h"

/// What a card did to one instance, in a few words.
struct TallyText {
    QString added;  ///< "Y +0.25 m", "turned 34.2°", "× 1.2", "unchanged"
    QString value;  ///< what the instance has now of what was changed
    QString tip;    ///< all of it
};

/// `before` is null for the home; `numbers` are the names of the swarm's named values, in their order.
TallyText tallyText(const gswarm::TallyRow* before, const gswarm::TallyRow& after, const QStringList& numbers);

/// How many instances a formula gave no number for, and what became of them.
QString notFiniteText(int count);
