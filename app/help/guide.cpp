#include "app/help/guide.h"

#include <QCoreApplication>
#include <QDir>
#include <QFile>
#include <QStandardPaths>

#include "core/resolve/resolve.h"

using namespace gswarm;

namespace {

/// As they are read; others, such as a translator's, come after them.
const QStringList order = {
    "first-swarm",        "view-and-selection", "reading-a-card", "formations",       "gestures-and-zones", "symmetry", "swarms-of-swarms",
    "pictures",           "formulas",           "time-and-loops", "camera-and-light", "importing",          "export",   "look",
    "starts-of-your-own", "command-line",       "glossary"};

struct SectionPlace {
    const char *section, *page, *heading;
};
const SectionPlace sections[] = {
    {"What changes", "gestures-and-zones", "What changes"},
    {"Driven by", "gestures-and-zones", "Driven by"},
    {"Where", "gestures-and-zones", "Where"},
    {"Shaped how", "gestures-and-zones", "Shaped how"},
    {"When", "time-and-loops", "When"},
    {"Formation", "formations", ""},
    {"Standing and order", "formations", "Standing and order"},
    {"Stock", "formations", "Stock"},
    {"How it is repeated", "formations", "Stock"},
    {"Material", "look", "Materials"},
    {"Hanging", "time-and-loops", "Hanging"},
    {"Follow-through", "time-and-loops", "Follow-through"},
    {"Shown", "formations", "Shapes"},
    {"Place of the swarm", "view-and-selection", ""},
    {"Named values", "formulas", "Named values"},
};

}  // namespace

QString guide::folder() {
    const QString here = QCoreApplication::applicationDirPath();
    for (const QString& folder :
         {here + "/../share/doc/gilded-swarm/guide", here + "/../../../docs/guide", here + "/../../../../docs/guide"})
        if (QDir(folder).exists()) return QDir(folder).canonicalPath();
    return {};
}

QStringList guide::pages() {
    QStringList all;
    if (folder().isEmpty()) return all;
    const QStringList there = QDir(folder()).entryList({"*.md"}, QDir::Files, QDir::Name);
    for (const QString& page : order)
        if (there.contains(page + ".md")) all << page;
    for (const QString& file : there)
        if (!all.contains(file.chopped(3))) all << file.chopped(3);
    return all;
}

QString guide::textOf(const QString& page) {
    QFile file(folder() + "/" + page + ".md");
    return file.open(QIODevice::ReadOnly) ? QString::fromUtf8(file.readAll()) : QString();
}

QString guide::titleOf(const QString& page) {
    const QString first = textOf(page).section('\n', 0, 0);
    return first.startsWith("# ") ? first.mid(2) : page;
}

guide::Place guide::placeOf(const Scene& scene, ObjectId thing) {
    switch (thing.type()) {
        case ObjectType::gesture:
            return {"gestures-and-zones", "What changes"};
        case ObjectType::zone:
            return {"gestures-and-zones", "Zones"};
        case ObjectType::formation:
            return {"formations", {}};
        case ObjectType::stock:
            return {"formations", "Stock"};
        case ObjectType::symmetry:
            return {"symmetry", {}};
        case ObjectType::shape: {
            const Part& maker = scene.at(thing).part("maker");
            for (const Parameter& p : maker.kind->parameters)
                if (p.type == ParameterType::file) return {"importing", {}};
            return {"formations", "Shapes"};
        }
        case ObjectType::material:
            return {"look", "Materials"};
        case ObjectType::media:
            return {"pictures", {}};
        case ObjectType::sound:
            return {"pictures", "Sound"};
        case ObjectType::force:
            return {"bodies", "Forces"};
        case ObjectType::light:
            return {"look", "Lights"};
        case ObjectType::camera:
            return {"camera-and-light", {}};
        case ObjectType::mount:
            return {"time-and-loops", "Hanging"};
        case ObjectType::project:
            return {"time-and-loops", {}};
        default:
            return {"first-swarm", {}};
    }
}

guide::Place guide::placeOf(const QString& section) {
    for (const SectionPlace& place : sections)
        if (section == place.section) return {place.page, place.heading};
    return {};
}
