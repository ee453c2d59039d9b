#pragma once
#include <QPoint>
#include <vector>

#include "core/scene/key_edits.h"

class Document;
class QWidget;

/// What can be done with chosen keys, at a place on the screen. Returns true if they are to be shown as curves.
bool showKeyMenu(Document& document, std::vector<gswarm::KeyPlace>& keys, gswarm::CopiedKeys& copied, const QPoint& at, QWidget* parent);
