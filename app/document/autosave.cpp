#include "app/document/autosave.h"

#include <fcntl.h>
#include <sys/file.h>
#include <unistd.h>

#include <algorithm>
#include <fstream>
#include <QDateTime>
#include <QFileInfo>
#include <QStandardPaths>
#include <QUuid>

#include "app/document/document.h"
#include "core/base/atomic_file.h"
#include "core/base/error.h"
#include "core/file/project_file.h"

namespace fs = std::filesystem;

namespace {

/// RUN.gswarm beside RUN.project, which names the file the copy belongs to, RUN.files with what an unsaved project has brought
/// in, and RUN.lock.
fs::path besides(const fs::path& copy, const char* ending) { return fs::path(copy).replace_extension(ending); }

void removeCopy(const fs::path& copy) {
    std::error_code ignored;
    fs::remove(copy, ignored);
    fs::remove(besides(copy, ".project"), ignored);
}

void removeFiles(const fs::path& copy) {
    std::error_code ignored;
    fs::remove_all(besides(copy, ".files"), ignored);
    fs::remove(besides(copy, ".lock"), ignored);
}

/// The file open and locked for this program alone; −1 if another holds it or it can't be made.
int locked(const fs::path& path) {
    const int file = ::open(path.c_str(), O_CREAT | O_RDWR | O_CLOEXEC, 0600);
    if (file >= 0 && ::flock(file, LOCK_EX | LOCK_NB) == 0) return file;
    if (file >= 0) ::close(file);
    return -1;
}

/// Whether the run that made the copy has ended.
bool isLeft(const fs::path& copy) {
    const int file = locked(besides(copy, ".lock"));
    if (file < 0) return false;
    ::close(file);
    return true;
}

}  // namespace

fs::path Autosave::folder() {
    const QString base = QStandardPaths::writableLocation(QStandardPaths::AppDataLocation);
    return fs::path(base.toStdString()) / "autosave";
}

Autosave::Autosave(Document& document, QObject* parent) : QObject(parent), document_(document) {
    copy_ = folder() / (QUuid::createUuid().toString(QUuid::WithoutBraces).toStdString() + ".gswarm");
    std::error_code failed;
    fs::create_directories(folder(), failed);
    lock_ = locked(besides(copy_, ".lock"));
    document_.setScratchFolder(besides(copy_, ".files"));
    timer_.setSingleShot(true);
    timer_.setInterval(2000);
    connect(&timer_, &QTimer::timeout, this, &Autosave::write);
    connect(&document_, &Document::sceneChanged, this, &Autosave::changed);
    connect(&document_, &Document::fileChanged, this, &Autosave::changed);
}

Autosave::~Autosave() {
    if (writer_.joinable()) writer_.join();
    removeCopy(copy_);
    removeFiles(copy_);
    if (lock_ >= 0) ::close(lock_);
}

void Autosave::changed() {
    if (!timer_.isActive()) timer_.start();
}

void Autosave::write() {
    if (writer_.joinable()) writer_.join();
    if (document_.saved()) {
        removeCopy(copy_);
        return;
    }
    // The scene is a value: the other thread works on its own snapshot.
    writer_ = std::thread([scene = document_.scene(), copy = copy_, project = document_.path()] {
        try {
            fs::create_directories(copy.parent_path());
            gswarm::writeFileAtomically(besides(copy, ".project"), project.string());
            gswarm::saveProject(scene, copy);
        } catch (const std::exception&) {
            // A full disk must not disturb the work; saving by hand will tell.
        }
    });
}

std::vector<Autosave::Found> Autosave::find() {
    std::error_code failed;
    std::vector<std::pair<QDateTime, Found>> dated;
    for (const auto& entry : fs::directory_iterator(folder(), failed)) {
        if (entry.path().extension() != ".gswarm" || !isLeft(entry.path())) continue;
        std::string project;
        std::ifstream name(besides(entry.path(), ".project"));
        std::getline(name, project);
        const QDateTime written = QFileInfo(QString::fromStdString(entry.path().string())).lastModified();
        dated.push_back({written, {entry.path(), project, written.toString("d MMM yyyy, HH:mm")}});
    }
    std::sort(dated.begin(), dated.end(), [](const auto& a, const auto& b) { return a.first > b.first; });
    std::vector<Found> found;
    for (auto& [written, copy] : dated) found.push_back(std::move(copy));
    return found;
}

fs::path Autosave::beside(const char* ending) const { return besides(copy_, ending); }

std::vector<fs::path> Autosave::leftBeside(const char* ending) {
    std::error_code failed;
    std::vector<fs::path> left;
    for (const auto& entry : fs::directory_iterator(folder(), failed))
        if (entry.path().extension() == ending && isLeft(entry.path())) left.push_back(entry.path());
    for (const fs::path& path : left) fs::remove(besides(path, ".lock"), failed);
    return left;
}

void Autosave::discard(const Found& found) {
    removeCopy(found.copy);
    removeFiles(found.copy);
}

void Autosave::adoptFiles(const Found& found) {
    std::error_code failed;
    const fs::path files = besides(found.copy, ".files");
    if (fs::exists(files, failed))
        fs::copy(files, besides(copy_, ".files"), fs::copy_options::recursive | fs::copy_options::overwrite_existing, failed);
}
