#pragma once
#include <QPoint>
#include <vector>

#include "core/edit/key_edits.h"

class Document;
class QWidget;

/// The eases as people read them, in the order in which they are offered.
struct EaseChoice {
    const char* label;
    gswarm::Ease ease;
};
const std::vector<EaseChoice>& easeChoices();

/// What can be done with chosen keys, at a place on the screen. Returns true if they are to be shown as curves.
bool showKeyMenu(Document& document, std::vector<gswarm::KeyPlace>& keys, gswarm::CopiedKeys& copied, const QPoint& at, QWidget* parent);
