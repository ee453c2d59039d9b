#include "app/document/importing.h"

#include <algorithm>
#include <fstream>
#include <QFileInfo>
#include <QMimeData>
#include <QUrl>
#include <set>

#include "core/base/error.h"
#include "core/base/numbered_files.h"
#include "core/base/text.h"
#include "core/edit/import_edits.h"
#include "core/kinds/registry.h"
#include "core/media/media_kind.h"

using namespace gswarm;

namespace {

constexpr std::size_t mostHead = 65536;

/// Points alone, or faces too: a PLY file can be either.
bool hasFaces(const std::string& path) {
    std::ifstream file(path, std::ios::binary);
    std::string head(mostHead, '\0');
    file.read(head.data(), static_cast<std::streamsize>(head.size()));
    head.resize(static_cast<std::size_t>(file.gcount()));
    const auto end = head.find("end_header");
    const auto face = head.find("element face ");
    return face != std::string::npos && face < end && head.compare(face + 13, 2, "0\n") != 0;
}

/// One of several numbered pictures stands for all of them; where their folder can't be read, for itself.
bool isOneOfSeveral(const QString& path) {
    try {
        return numberedLike(std::filesystem::absolute(path.toStdString())).size() > 1;
    } catch (const Error&) {
        return false;
    }
}

/// The kind that a file is read by; null for one that none reads.
const Kind* kindFor(const QString& path) {
    const std::string ending = lowered(std::filesystem::path(path.toStdString()).extension().string());
    const auto kinds = kindsReading(ending);
    if (kinds.size() < 2) return kinds.empty() ? nullptr : kinds.front();
    if (kinds.front()->family == Family::media) return isOneOfSeveral(path) ? &picturesMedia : &pictureMedia;
    const Family family = hasFaces(path.toStdString()) ? Family::shape : Family::formation;
    const auto found = std::find_if(kinds.begin(), kinds.end(), [&](const Kind* kind) { return kind->family == family; });
    return found == kinds.end() ? kinds.front() : *found;
}

/// Whether a file is one of those that are numbered like another, by their names.
bool belongs(const QString& path, const std::string& other) {
    const auto without = [](std::string stem) { return stem.substr(0, stem.find_last_not_of("0123456789") + 1); };
    const std::filesystem::path one = path.toStdString(), two = other;
    return one.extension() == two.extension() && without(one.stem().string()) == without(two.stem().string());
}

}  // namespace

QString importing::filter() {
    std::set<std::string> endings;
    for (const Family family : {Family::shape, Family::formation, Family::media, Family::sound})
        for (const Kind* kind : kindsOf(family))
            for (const Parameter& p : kind->parameters) endings.insert(p.endings.begin(), p.endings.end());
    QString all;
    for (const std::string& ending : endings) all += (all.isEmpty() ? "*" : " *") + QString::fromStdString(ending);
    return "Shapes, points, drawings, fonts, pictures, clips and sounds (" + all + ")";
}

bool importing::canImport(const QString& path) { return QFileInfo(path).isFile() && kindFor(path); }

bool importing::isShape(const QString& path) { return canImport(path) && kindFor(path)->family == Family::shape; }

QStringList importing::dragged(const QMimeData* data) {
    QStringList paths;
    for (const QUrl& url : data->urls()) {
        if (!canImport(url.toLocalFile())) return {};
        paths << url.toLocalFile();
    }
    return paths;
}

std::vector<ObjectId> importing::make(Document& document, const QStringList& paths, const std::optional<glm::dvec3>& place) {
    std::vector<ObjectId> made;
    std::vector<std::pair<const Kind*, std::string>> files;
    QString refused;
    for (const QString& path : paths) {
        const Kind* kind = kindFor(path);
        if (!kind) {
            refused = QString("“%1” is of no kind that can be imported.").arg(QFileInfo(path).fileName());
            continue;
        }
        const bool numbered = kind->parameters[static_cast<std::size_t>(fileParameter(*kind))].numbered;
        if (numbered &&
            std::any_of(files.begin(), files.end(), [&](const auto& taken) { return taken.first == kind && belongs(path, taken.second); }))
            continue;
        const std::string inside = document.broughtIn(path.toStdString(), numbered);
        if (!inside.empty()) files.push_back({kind, inside});
    }
    if (!files.empty()) {
        document.seal();
        document.edit([&](const Scene& scene) {
            Edit edit{scene, {}, {}, {}};
            for (const auto& [kind, file] : files) {
                edit = kind->family == Family::formation ? importPoints(edit.scene, *kind, file)
                       : kind->family == Family::media   ? importMedia(edit.scene, *kind, file)
                       : kind->family == Family::sound   ? importSound(edit.scene, *kind, file)
                       : place                           ? importSwarm(edit.scene, *kind, file)
                                                         : importShape(edit.scene, *kind, file);
                if (place && kind->family != Family::media && kind->family != Family::sound)
                    edit.scene =
                        setValue(edit.scene, addressOf(edit.scene, edit.made, "position"), fixedNumbers({place->x, place->y, place->z}))
                            .scene;
                made.push_back(edit.made);
            }
            if (files.size() > 1) edit.label = "Import " + std::to_string(files.size()) + " files";
            return edit;
        });
        document.seal();
        std::erase_if(made, [&](ObjectId id) { return !document.scene().find(id); });
    }
    if (!refused.isEmpty()) emit document.trouble(refused);
    return made;
}

void importing::add(Document& document, const QStringList& paths, const std::optional<glm::dvec3>& place) {
    if (const auto made = make(document, paths, place); !made.empty()) document.choose(made.back());
}
