#include "app/document/own_starts.h"

#include <map>
#include <QStandardPaths>

#include "app/document/document.h"
#include "core/base/error.h"
#include "core/base/text.h"
#include "core/exchange/start_files.h"
#include "core/file/start_file.h"

using namespace gswarm;
namespace fs = std::filesystem;

fs::path ownStartsFolder() { return fs::path(QStandardPaths::writableLocation(QStandardPaths::AppDataLocation).toStdString()) / "starts"; }

std::vector<OwnStart> ownStarts() {
    static std::map<fs::path, OwnStart> known;
    std::map<fs::path, OwnStart> now;
    std::error_code failed;
    for (const auto& entry : fs::directory_iterator(ownStartsFolder(), failed)) {
        if (entry.path().extension() != startEnding) continue;
        const std::int64_t written = entry.last_write_time(failed).time_since_epoch().count();
        if (const auto found = known.find(entry.path()); found != known.end() && found->second.written == written) {
            now.insert(*found);
            continue;
        }
        OwnStart own{entry.path(), {}, {}, written};
        try {
            own.start = std::make_shared<KeptStart>(loadStart(entry.path()));
        } catch (const Error& error) {
            own.trouble = QString::fromUtf8(error.what());
        }
        now[entry.path()] = own;
    }
    known = now;
    std::vector<OwnStart> all;
    for (const auto& [path, one] : known) all.push_back(one);
    return all;
}

namespace {

/// Keeps it, and tells that, with what came not along.
bool keep(Document& document, StartOf of, ObjectId thing, const fs::path& path, const QString& told) {
    try {
        const Object* object = document.scene().find(thing);
        if (!object) return false;
        const KeptStart start = keepStart(document.scene(), of, document.swarm(), thing, object->name);
        const auto missing = saveStartWithFiles(start, path, document.folder());
        if (missing.empty())
            emit document.told(told);
        else
            emit document.trouble(told + " A file did not come along: " + QString::fromStdString(missing.front()));
        return true;
    } catch (const Error& error) {
        emit document.trouble(QString::fromUtf8(error.what()));
        return false;
    }
}

}  // namespace

bool keepStartAs(Document& document, StartOf of, ObjectId thing, const fs::path& path) {
    return keep(document, of, thing, path, QString("“%1” is written.").arg(QString::fromStdString(path.filename().string())));
}

bool keepOwnStart(Document& document, StartOf of, ObjectId thing) {
    const Object* object = document.scene().find(thing);
    if (!object) return false;
    std::error_code failed;
    fs::create_directories(ownStartsFolder(), failed);
    const std::string what = std::string(startOfNames[static_cast<int>(of)]);
    fs::path path = ownStartsFolder() / (harmlessFileName(object->name, "start") + startEnding);
    for (int n = 2; fs::exists(path, failed) || fs::exists(filesBesideStart(path), failed); ++n)
        path.replace_filename(harmlessFileName(object->name, "start") + " " + std::to_string(n) + startEnding);
    return keep(document, of, thing, path,
                QString("The %1 “%2” is kept: it is in its gallery and in the finder, in every project.")
                    .arg(QString::fromStdString(what), QString::fromStdString(object->name)));
}

namespace {

void use(Document& document, const fs::path& path, const StartTarget& target) {
    try {
        const KeptStart start = loadStartInto(path, document.folder(), document.store().fileHashes());
        const ObjectId made = document.edit([&](const Scene& s) { return useStart(s, start, target); });
        document.seal();
        if (!target.user) document.choose(made);
    } catch (const Error& error) {
        emit document.trouble(QString::fromUtf8(error.what()));
    }
}

}  // namespace

void useStartFile(Document& document, const fs::path& path, ObjectId gesture) { use(document, path, {document.swarm(), gesture, {}}); }

void useMaterialFile(Document& document, const fs::path& path, ObjectId user) { use(document, path, {document.swarm(), {}, user}); }
