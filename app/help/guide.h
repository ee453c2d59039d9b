#pragma once
#include <QString>
#include <QStringList>

#include "core/scene/scene.h"

/// The guide as it lies beside the program: pages in Markdown, each with headings that sections and things point to.
namespace guide {

/// The folder of its pages: installed, or in the source tree; empty if there is none.
QString folder();
/// The pages in the order they are read, by file name without ending.
QStringList pages();
QString titleOf(const QString& page);
QString textOf(const QString& page);

/// Where something is explained: the page, and the heading on it (may be empty).
struct Place {
    QString page, heading;
};
/// Of a thing, by what it is.
Place placeOf(const gswarm::Scene& scene, gswarm::ObjectId thing);
/// Of a section of the settings, by its title; an empty page where none explains it.
Place placeOf(const QString& section);

}  // namespace guide
