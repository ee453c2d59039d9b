// Wavefront OBJ with its material library: everything that is seen as meshes in the world, an object for each surface.
#include <charconv>
#include <map>

#include "core/base/atomic_file.h"
#include "core/exchange/exporter_kind.h"
#include "core/exchange/realised.h"

namespace gswarm {
namespace {

struct Obj {
    bool split;
};

std::filesystem::path libraryOf(const std::filesystem::path& path) { return std::filesystem::path(path).replace_extension(".mtl"); }

/// Names end at the first blank for many readers.
std::string objName(const std::string& text) {
    std::string name;
    for (const char c : text) name += static_cast<unsigned char>(c) <= ' ' || c == '#' ? '_' : c;
    return name.empty() ? "unnamed" : name;
}

class ObjText {
  public:
    explicit ObjText(std::ostream& out) : out_(out) {}
    ~ObjText() { flush(); }
    void word(std::string_view word) { text_ += word; }
    template <class T>
    void number(T value) {
        char text[32];
        text_.append(text, std::to_chars(text, text + sizeof text, value).ptr);
    }
    void numbers(const char* what, std::initializer_list<float> values) {
        text_ += what;
        for (const float value : values) text_ += ' ', number(value);
        endLine();
    }
    void endLine() {
        text_ += '\n';
        if (text_.size() > (1 << 20)) flush();
    }

  private:
    void flush() { out_ << text_, text_.clear(); }
    std::ostream& out_;
    std::string text_;
};

/// Materials by the look and the colour, rounded to 32 steps: the format knows no colours of vertices.
class Library {
  public:
    std::string nameOf(const DrawList& list, const RealisedThing& thing) {
        std::uint32_t key = static_cast<std::uint32_t>(thing.surface.look) << 20;
        glm::vec3 shown;
        for (int c = 0; c < 3; ++c) {
            const double encoded = srgbFromLinear(std::clamp(thing.colour[c], 0.0f, 1.0f));
            const auto step = static_cast<std::uint32_t>(encoded * 31 + 0.5);
            key |= step << 5 * c;
            shown[c] = static_cast<float>(linearFromSrgb(step / 31.0));
        }
        const auto opacity = static_cast<std::uint32_t>(std::clamp(thing.colour.w, 0.0f, 1.0f) * 15 + 0.5f);
        key |= opacity << 15;
        const auto [entry, fresh] = names_.try_emplace(key, "material_" + std::to_string(names_.size() + 1));
        if (fresh)
            add(entry->second, list.looks[static_cast<std::size_t>(thing.surface.look)].plain, shown, static_cast<float>(opacity) / 15);
        return entry->second;
    }
    const std::string& text() const { return text_; }

  private:
    /// With the numbers of physically based rendering that newer readers know, and the older ones that all know.
    void add(const std::string& name, const Material& material, const glm::vec3& colour, float opacity) {
        const auto line = [&](const char* what, std::initializer_list<float> values) {
            text_ += what;
            char number[32];
            for (const float value : values) text_ += ' ', text_.append(number, std::to_chars(number, number + sizeof number, value).ptr);
            text_ += '\n';
        };
        const float shine = 1 - material.roughness;
        text_ += "newmtl " + name + "\n";
        line("Kd", {colour.x, colour.y, colour.z});
        const glm::vec3 mirrored = glm::mix(glm::vec3(0.04f), colour, material.metal);
        line("Ks", {mirrored.x, mirrored.y, mirrored.z});
        line("Ns", {shine * shine * 1000});
        if (material.emission > 0) {
            const glm::vec3 glow = (material.emissionColour == glm::vec3(0) ? colour : material.emissionColour) * material.emission;
            line("Ke", {glow.x, glow.y, glow.z});
        }
        line("Ni", {material.ior});
        line("d", {opacity});
        line("Pr", {material.roughness});
        line("Pm", {material.metal});
        text_ += "illum 2\n\n";
    }

    std::map<std::uint32_t, std::string> names_;
    std::string text_ = "# Gilded Swarm\n";
};

void writeObj(const Obj& obj, const ExportFrames& frames, const std::filesystem::path& path, Progress& progress) {
    const DrawList list = frames.at(frames.moment, progress);
    checkRealised(realisedCount(list));
    Library library;
    AtomicFile file(path);
    {
        ObjText out(file.stream());
        out.word("# Gilded Swarm, metres, Y up\nmtllib " + objName(libraryOf(path).filename().string()));
        out.endLine();
        std::int64_t first = 1;
        const Surface* before = nullptr;
        realise(list, progress, [&](const RealisedThing& thing) {
            if (obj.split || before != &thing.surface) {
                std::string name = frames.scene.at(thing.surface.swarm ? thing.surface.swarm->swarm : thing.surface.shape).name;
                if (thing.surface.swarm) name += " " + frames.scene.at(thing.surface.shape).name;
                if (obj.split && thing.surface.swarm) name += " " + std::to_string(thing.row);
                out.word("o " + objName(name));
                out.endLine();
                before = &thing.surface;
            }
            for (const glm::vec3& v : thing.positions) out.numbers("v", {v.x, v.y, v.z});
            for (const glm::vec2& t : thing.mesh.uv) out.numbers("vt", {t.x, t.y});
            for (const glm::vec3& n : thing.normals) out.numbers("vn", {n.x, n.y, n.z});
            out.word("usemtl " + library.nameOf(list, thing));
            out.endLine();
            for (std::size_t t = 0; t + 2 < thing.triangles.size(); t += 3) {
                out.word("f");
                for (std::size_t c = 0; c < 3; ++c) {
                    const std::int64_t corner = first + thing.triangles[t + c];
                    out.word(" "), out.number(corner), out.word("/"), out.number(corner), out.word("/"), out.number(corner);
                }
                out.endLine();
            }
            first += static_cast<std::int64_t>(thing.positions.size());
        });
    }
    writeFileAtomically(libraryOf(path), library.text());
    file.commit();
    progress.report(1);
}

ExporterKind object() {
    DescribeExporter<Obj> described(ExportGroup::geometry, "obj", "Meshes (OBJ)", ".obj",
                                    "Everything that is seen as meshes in the world, with an .mtl of its materials: for any program.");
    described.toggle("split", &Obj::split, false, "Every instance is an object of its own; else those of one shape are one")
        .label("Each its own object")
        .found("mesh model geometry wavefront mtl");
    ExporterKind kind = writes(described, writeObj);
    kind.besides = [](const void*, const Scene&, const std::filesystem::path& path) { return std::vector{libraryOf(path)}; };
    kind.bytes = [](const void*, const ExportFrames& frames, Progress& progress) {
        const RealisedCount count = realisedCount(frames.at(frames.moment, progress));
        return count.vertices * 85 + count.triangles * 45;
    };
    return kind;
}

}  // namespace

const ExporterKind objExporter = object();
const ExporterKind objSequenceExporter = sequenceOf(object(), "objSequence", "Frames of meshes (OBJ)");

}  // namespace gswarm
