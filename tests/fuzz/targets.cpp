#include "tests/fuzz/targets.h"

#include <sys/mman.h>
#include <sys/socket.h>
#include <unistd.h>

#include <algorithm>
#include <cmath>
#include <cstdio>
#include <cstdlib>
#include <sstream>

#include "companions/decode/clip_reader.h"
#include "companions/decode/sound_reader.h"
#include "core/base/companion.h"
#include "core/base/descriptor.h"
#include "core/base/error.h"
#include "core/base/progress.h"
#include "core/edit/edit.h"
#include "core/explain/findings.h"
#include "core/file/project_file.h"
#include "core/formation/points_csv.h"
#include "core/formula/bind.h"
#include "core/formula/number_formula.h"
#include "core/formula/parse.h"
#include "core/gesture/gesture_kind.h"
#include "core/kinds/registry.h"
#include "core/light/panorama.h"
#include "core/provide/baked_states.h"
#include "core/provide/decoder_talk.h"
#include "core/provide/read_picture.h"
#include "core/provide/state_file.h"
#include "core/provide/store.h"
#include "core/resolve/parse_value.h"
#include "core/resolve/resolve.h"
#include "core/resolve/typed_number.h"
#include "core/scene/address.h"
#include "core/shape/font.h"
#include "core/shape/homes.h"
#include "core/shape/outline.h"
#include "core/shape/read_mesh.h"
#include "core/shape/shape_kind.h"
#include "core/shape/svg.h"

namespace gswarm::fuzz {
namespace {

void demand(bool holds, const char* what) {
    if (holds) return;
    std::fprintf(stderr, "broken promise: %s\n", what);
    std::abort();
}

void checkMesh(const Mesh& mesh) {
    demand(mesh.normals.size() == mesh.positions.size() && mesh.uv.size() == mesh.positions.size(), "a normal and UV for every place");
    demand(mesh.colours.empty() || mesh.colours.size() == mesh.positions.size(), "a colour for every place or none");
    demand(mesh.triangles.size() == 3 * mesh.faces.size(), "a face for every triangle");
    for (const std::uint32_t v : mesh.triangles) demand(v < mesh.positions.size(), "corners that are there");
}

void checkContent(const MeshFileContent& content) {
    for (const FileMesh& mesh : content.meshes) checkMesh(mesh.mesh);
}

/// What a reader refuses is fine; anything else that it throws is not caught.
template <class Work>
void refusing(Work work) {
    try {
        work();
    } catch (const Error& error) {
        demand(*error.what() != 0, "a sentence for what is refused");
    }
}

void obj(std::string_view bytes) {
    refusing([&] { checkContent(readObj(bytes)); });
}
void ply(std::string_view bytes) {
    refusing([&] { checkContent(readPly(bytes)); });
    refusing([&] { readPlyPoints(bytes); });
}
void stl(std::string_view bytes) {
    refusing([&] { checkContent(readStl(bytes)); });
}
void gltf(std::string_view bytes) {
    // What stands beside it are the same bytes, so that files that name others are followed too.
    const ReadBeside beside = [&](const std::string&) { return std::string(bytes); };
    refusing([&] { checkContent(readGltf(bytes, beside)); });
}

void svg(std::string_view bytes) {
    refusing([&] {
        const SvgDrawing drawing = readSvg(std::string(bytes), 4);
        std::size_t points = 0;
        for (const SvgItem& item : drawing.items) {
            for (const auto& contour : item.area.contours) points += contour.size();
            demand(item.stroke.lines.size() == item.stroke.closed.size(), "for every stroked line whether it is closed");
            for (const auto& line : item.stroke.lines) points += line.size();
        }
        if (points > 2000 || drawing.items.size() > 50) return;
        for (const SvgItem& item : drawing.items) {
            if (!item.area.contours.empty())
                checkMesh(extrude(filled(item.area.contours, item.area.rule, 1e-3), {1, 0.1f, BevelForm::chamfered, 1}));
            if (!item.stroke.lines.empty()) stroked(item.stroke.lines, item.stroke.closed, item.stroke.stroke, 1e-3);
        }
    });
}

void csv(std::string_view bytes) {
    refusing([&] {
        const Homes homes = readPointsCsv(bytes);
        demand(homes.rotation.w.size() == homes.count() && homes.idHigh.size() == homes.count(), "a turn and an id for every place");
        for (const HomeExtra& extra : homes.extras) demand(extra.values.size() == homes.count(), "a value for every place");
        for (std::size_t i = 0; i < homes.count(); ++i) {
            const auto p = homes.placeOf(i);
            demand(std::isfinite(p.x + p.y + p.z), "places that are numbers");
        }
    });
}

void font(std::string_view bytes) {
    refusing([&] {
        std::string note;
        const Font font = Font::fromBytes(std::string(bytes), "fuzzed");
        font.set("Reef\nAV fi", {1, TextAlign::middle, 0, 1, true, 2}, note, nullptr);
    });
}

void picture(std::string_view bytes) {
    refusing([&] {
        FloatPicture picture = readPicture(bytes);
        demand(
            picture.width > 0 && picture.light.size() == static_cast<std::size_t>(picture.width) * static_cast<std::size_t>(picture.height),
            "as many pixels as its sizes say");
        for (const glm::vec3& light : picture.light) demand(std::isfinite(light.x + light.y + light.z), "light that is a number");
        const Panorama panorama(std::move(picture));
        const Panorama::Seen seen = panorama.at(panorama.pick(0.3f, 0.7f));
        demand(std::isfinite(seen.density) && seen.density > 0, "directions that can be picked");
    });
}

/// A file of these bytes, in memory alone.
struct InMemory {
    int file = ::memfd_create("fuzzed", MFD_CLOEXEC);
    explicit InMemory(std::string_view bytes) {
        demand(file >= 0 && ::write(file, bytes.data(), bytes.size()) == static_cast<ssize_t>(bytes.size()), "a file in memory");
    }
    ~InMemory() { ::close(file); }
};

void clip(std::string_view bytes) {
    refusing([&] {
        const InMemory content(bytes);
        ClipReader reader(content.file, std::size_t{1} << 22, [] {});
        const ClipFacts& facts = reader.facts();
        demand(!facts.begins.empty() && facts.begins.front() == 0 && facts.seconds > facts.begins.back(), "a time for every picture");
        demand(std::is_sorted(facts.begins.begin(), facts.begins.end()), "times that rise");
        std::vector<std::uint8_t> picture;
        const auto last = static_cast<std::int64_t>(facts.begins.size()) - 1;
        for (const std::int64_t number : {std::int64_t{0}, last, last / 2}) {
            refusing([&] {
                reader.read(number, picture);
                demand(picture.size() == facts.pictureBytes(), "as many bytes as its sizes say");
            });
        }
    });
}

void sound(std::string_view bytes) {
    refusing([&] {
        const InMemory content(bytes);
        SoundReader reader(content.file, [] {});
        const SoundFacts& facts = reader.facts();
        demand(facts.length > 0 && facts.channels >= 1 && facts.channels <= 2, "facts that can be");
        std::vector<float> piece;
        for (const std::int64_t number : {std::int64_t{0}, facts.pieces() - 1, facts.pieces() / 2})
            refusing([&] {
                reader.read(number, piece);
                demand(static_cast<std::int64_t>(piece.size()) == facts.lengthOf(number) * facts.channels, "as many samples as it says");
                for (const float sample : piece) demand(std::abs(sample) <= 16, "samples that are numbers");
            });
    });
}

/// What a decoder that was taken over may say.
template <class Work>
void hearing(std::string_view bytes, const Work& work) {
    int ends[2];
    demand(::socketpair(AF_UNIX, SOCK_STREAM | SOCK_CLOEXEC, 0, ends) == 0, "a socket");
    const Descriptor ours(ends[0]), theirs(ends[1]);
    DecoderTalk talk(ours.number);
    const ssize_t sent = ::send(theirs.number, bytes.data(), bytes.size(), MSG_DONTWAIT | MSG_NOSIGNAL);
    ::shutdown(theirs.number, SHUT_WR);
    try {
        refusing([&] { work(talk); });
    } catch (const CompanionGaveUp& given) {
        demand(!given.how.empty() && sent >= 0, "what it did");
    }
}
void decoder(std::string_view bytes) {
    hearing(bytes, [](DecoderTalk& talk) {
        const ClipFacts& facts = talk.hearClip();
        demand(facts.width > 0 && facts.height > 0 && std::is_sorted(facts.begins.begin(), facts.begins.end()), "facts that can be");
        for (int k = 0; k < 3; ++k) demand(talk.picture(k).bytes.size() == facts.pictureBytes(), "whole pictures");
    });
    hearing(bytes, [](DecoderTalk& talk) {
        const SoundFacts facts = talk.hearSound();
        demand(facts.length > 0 && facts.channels >= 1 && facts.channels <= 2, "facts that can be");
        for (const float sample : talk.piece(0).samples) demand(std::abs(sample) <= 16, "samples that are numbers");
    });
}

void formula(std::string_view bytes) {
    refusing([&] {
        const Scene scene = emptyScene();
        const Formula bound = boundFormula(scene, bytes);
        const auto compiled = numberFormula(bound);
        if (!compiled->readsInstance) runNumber(*compiled, {12, 25, 0, 100}, {});
    });
    refusing([&] { parseCondition(bytes); });
    typedNumber(bytes, "m", 25);
    typedNumber(bytes, "°", 25);
    typedNumber(bytes, "frames", 25);
}

void project(std::string_view bytes) {
    refusing([&] {
        const Scene scene = parseProject(bytes, "fuzzed");
        const std::string saved = toJson(scene);
        demand(toJson(parseProject(saved, "again")) == saved, "what was opened is saved and opens again the same");
    });
}

/// ADDRESS=VALUE on a scene that has something of most things.
void set(std::string_view bytes) {
    static const Scene scene = [] {
        Scene made = addSwarm(emptyScene()).scene;
        return made;
    }();
    refusing([&] {
        const auto equals = bytes.find('=');
        if (equals == std::string_view::npos) return;
        const Address address = parseAddress(scene, bytes.substr(0, equals));
        const Scene changed = setValue(scene, address, parseValue(scene, address, bytes.substr(equals + 1))).scene;
        demand(parseProject(toJson(changed), "changed") == changed, "what was set is saved and opens again the same");
    });
}

/// What was baked: read, and bodies carried on from whatever it says.
void bake(std::string_view bytes) {
    refusing([&] {
        const InMemory content(bytes);
        BakedStates states("/proc/self/fd/" + std::to_string(content.file));
        demand(states.count() <= bytes.size(), "no more states than bytes");
    });
    std::istringstream in{std::string(bytes)};
    const auto state = readState(in, bytes.size());
    if (!state || state->cards.empty()) return;
    constexpr std::size_t bodies = 4;
    const ResolvedPart part = resolvedWith(standardPart(bodiesGesture), [](const Track& track) { return track.value; });
    RailSource source;
    source.kept = [](std::uint64_t, const auto& make, const auto&) { return make(); };
    bodiesGesture.prepare(part.data.get(), source);
    Mesh mesh;
    mesh.positions = {{0, 0, 0}, {1, 0, 0}, {0, 1, 0}, {0, 0, 1}};
    mesh.triangles = {0, 1, 2, 0, 1, 3, 0, 2, 3, 1, 2, 3};
    WholeSwarm all;
    WholeMoment moment;
    const auto meshes = std::make_shared<ShapeMeshes>();
    for (const glm::vec3& p : mesh.positions) meshes->bounds.add(p);
    meshes->level.fill(std::make_shared<const Mesh>(std::move(mesh)));
    moment.shapes.push_back({meshes, 1, glm::vec3(0)});
    for (std::size_t i = 0; i < bodies; ++i) {
        all.x.push_back(static_cast<float>(i)), all.y.push_back(1), all.z.push_back(0);
        for (auto* column : {&all.qx, &all.qy, &all.qz}) column->push_back(0);
        for (auto* column : {&all.qw, &all.scaleX, &all.scaleY, &all.scaleZ}) column->push_back(1);
        moment.shape.push_back(0);
        moment.where.push_back(1);
        moment.driven.emplace_back(0);
    }
    std::vector<std::vector<float>> columns;
    const std::size_t wanted = bodiesGesture.remembers(part.data.get()).size();
    for (std::size_t c = 0; c < wanted; ++c) {
        const auto& from = state->cards[0];
        std::vector<float>& column = columns.emplace_back(bodies, 0.0f);
        for (std::size_t i = 0; c < from.size() && i < std::min(bodies, from[c].size()); ++i) column[i] = from[c][i];
    }
    for (const auto& column : columns) moment.from.push_back(column.data());
    moment.loose = &state->loose[0];
    moment.frames = 1;
    Progress progress;
    const WholeShare share{part.data.get(), &all, &moment};
    for (const WholeColumns& made : bodiesGesture.carryOn({&share, 1}, progress))
        for (std::size_t c = 0; c < wanted; ++c)
            for (const float v : made[c]) demand(std::isfinite(v), "bodies that are somewhere");
}

}  // namespace

const std::vector<Target>& targets() {
    static const std::vector<Target> all = {{"obj", obj},         {"ply", ply},     {"stl", stl},         {"gltf", gltf},
                                            {"svg", svg},         {"csv", csv},     {"font", font},       {"picture", picture},
                                            {"clip", clip},       {"sound", sound}, {"decoder", decoder}, {"formula", formula},
                                            {"project", project}, {"set", set},     {"bake", bake}};
    return all;
}

}  // namespace gswarm::fuzz
