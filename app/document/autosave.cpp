#include "app/document/autosave.h"

#include <signal.h>
#include <fstream>
#include <QCoreApplication>
#include <QStandardPaths>

#include "app/document/document.h"
#include "core/base/atomic_file.h"
#include "core/base/error.h"
#include "core/file/project_file.h"

namespace fs = std::filesystem;

namespace {

/// PROCESS.gswarm beside PROCESS.project, which names the file the copy belongs to.
fs::path besides(const fs::path& copy) { return fs::path(copy).replace_extension(".project"); }

void removeBoth(const fs::path& copy) {
    std::error_code ignored;
    fs::remove(copy, ignored);
    fs::remove(besides(copy), ignored);
}

}  // namespace

fs::path Autosave::folder() {
    const QString base = QStandardPaths::writableLocation(QStandardPaths::AppDataLocation);
    return fs::path(base.toStdString()) / "autosave";
}

Autosave::Autosave(Document& document, QObject* parent) : QObject(parent), document_(document) {
    copy_ = folder() / (std::to_string(QCoreApplication::applicationPid()) + ".gswarm");
    timer_.setSingleShot(true);
    timer_.setInterval(2000);
    connect(&timer_, &QTimer::timeout, this, &Autosave::write);
    connect(&document_, &Document::sceneChanged, this, &Autosave::changed);
    connect(&document_, &Document::fileChanged, this, &Autosave::changed);
}

Autosave::~Autosave() {
    if (writer_.joinable()) writer_.join();
    removeBoth(copy_);
}

void Autosave::changed() {
    if (!timer_.isActive()) timer_.start();
}

void Autosave::write() {
    if (writer_.joinable()) writer_.join();
    if (document_.saved()) {
        removeBoth(copy_);
        return;
    }
    // The scene is a value: the other thread works on its own snapshot.
    writer_ = std::thread([scene = document_.scene(), copy = copy_, project = document_.path()] {
        try {
            fs::create_directories(copy.parent_path());
            gswarm::writeFileAtomically(besides(copy), project.string());
            gswarm::saveProject(scene, copy);
        } catch (const std::exception&) {
            // A full disk must not disturb the work; saving by hand will tell.
        }
    });
}

std::optional<Autosave::Found> Autosave::find() {
    std::error_code failed;
    for (const auto& entry : fs::directory_iterator(folder(), failed)) {
        if (entry.path().extension() != ".gswarm") continue;
        const int process = std::atoi(entry.path().stem().c_str());
        if (process <= 0 || process == QCoreApplication::applicationPid() || ::kill(process, 0) == 0) continue;
        std::string project;
        std::ifstream name(besides(entry.path()));
        std::getline(name, project);
        return Found{entry.path(), project};
    }
    return std::nullopt;
}

void Autosave::discard(const Found& found) { removeBoth(found.copy); }
