#pragma once
#include <cstdint>
#include <filesystem>
#include <memory>
#include <QString>
#include <vector>

#include "core/edit/kept_start.h"

class Document;

/// A start of one's own in the person's folder; one that can't be used says why and is passed over.
struct OwnStart {
    std::filesystem::path path;
    std::shared_ptr<const gswarm::KeptStart> start;  ///< null where there is trouble
    QString trouble;
    std::int64_t written = 0;  ///< tells versions of the file apart
};

/// All that were kept, by their files' names; a file is read again when it has changed.
std::vector<OwnStart> ownStarts();
std::filesystem::path ownStartsFolder();

/// Keeps what is selected, of the swarm that is shown, under its name. Told by the document; false if it can't be kept.
bool keepOwnStart(Document& document, gswarm::StartOf of, gswarm::ObjectId thing);
/// The same as a file elsewhere, to be given away.
bool keepStartAs(Document& document, gswarm::StartOf of, gswarm::ObjectId thing, const std::filesystem::path& path);
/// Adds what a file keeps to the swarm that is shown, a zone to the gesture given; selected then.
void useStartFile(Document& document, const std::filesystem::path& path, gswarm::ObjectId gesture);
/// Adds the material that a file keeps, onto a stock entry or shape; without one it is selected then.
void useMaterialFile(Document& document, const std::filesystem::path& path, gswarm::ObjectId user);
