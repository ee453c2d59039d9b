#pragma once
#include <QPoint>
#include <QStringList>
#include <vector>

#include "app/document/document.h"

class QWidget;

/// Where things that are dragged within the scene list are let go.
struct Drop {
    gswarm::ObjectId before;  ///< for an order: what they come before; empty for the end
    gswarm::ObjectId onto;    ///< the row at hand; empty below all rows
    bool between = false;     ///< between two rows rather than on one
};

/// Does what the drop means. Between rows: the order, or the place in the rail or the stock. On a row: into a group, joined to a
/// gesture, repeated by a swarm, stood on by a formation, hung from it. Where it can mean several things a menu asks.
void dropThings(Document& document, const std::vector<gswarm::ObjectId>& things, const Drop& drop, const QPoint& at, QWidget* window);

/// Imports files and does with what they become what dropping it on a thing means, as one step. On nothing, or where it means
/// nothing, they are things of their own, selected.
void dropFiles(Document& document, const QStringList& files, gswarm::ObjectId onto, const QPoint& at, QWidget* window);
