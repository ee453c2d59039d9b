#pragma once
#include <functional>
#include <QPoint>

#include "app/document/document.h"

class QWidget;

/// What a menu of things asks of the window around it.
struct ThingMenuHooks {
    std::function<void()> rename, remove, frame, add, keepStart, group;
};

/// The context menu of what is selected, in the scene list and in the view: the same entries in the same order everywhere. Of
/// nothing it only offers to add.
void showThingMenu(Document& document, const ThingMenuHooks& hooks, const QPoint& global, QWidget* window);
