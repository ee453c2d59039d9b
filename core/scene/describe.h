#pragma once
#include <cctype>
#include <glm/vec3.hpp>
#include <glm/vec4.hpp>
#include <utility>

#include "core/scene/kind.h"

namespace gswarm {

/// A ramp as kernels read it: stops in ascending order, linear light.
struct RampTable {
    int count = 0;
    float at[mostRampStops] = {};
    glm::vec4 colour[mostRampStops] = {};
};

/// Builds the table of a kind whose resolved form is the struct T. K is the family's Kind.
/// Each call adds one parameter; `hard`, `unit`, `label`, `only`, `perInstance` and `still` refine the one added last.
template <class T, class K>
class Describe {
  public:
    Describe(Family family, std::string id, std::string label, std::string summary) {
        kind_.family = family;
        kind_.id = std::move(id);
        kind_.label = std::move(label);
        kind_.summary = std::move(summary);
        kind_.create = [] { return std::static_pointer_cast<void>(std::make_shared<T>()); };
    }

    Describe& number(const char* id, float T::*to, double standard, Range range, const char* summary) {
        return scalar(ParameterType::number, id, to, standard, range, summary, "");
    }
    Describe& length(const char* id, float T::*to, double standard, Range range, const char* summary) {
        return scalar(ParameterType::length, id, to, standard, range, summary, "m");
    }
    Describe& angle(const char* id, float T::*to, double standard, Range range, const char* summary) {
        return scalar(ParameterType::angle, id, to, standard, range, summary, "°");
    }
    Describe& number(const char* id, glm::vec3 T::*to, glm::dvec3 standard, Range range, const char* summary) {
        return triple(ParameterType::number, id, to, standard, range, summary, "");
    }
    Describe& length(const char* id, glm::vec3 T::*to, glm::dvec3 standard, Range range, const char* summary) {
        return triple(ParameterType::length, id, to, standard, range, summary, "m");
    }
    Describe& angle(const char* id, glm::vec3 T::*to, glm::dvec3 standard, Range range, const char* summary) {
        return triple(ParameterType::angle, id, to, standard, range, summary, "°");
    }
    Describe& whole(const char* id, int T::*to, int standard, Range range, const char* summary) {
        Parameter& p = add(ParameterType::whole, id, summary);
        p.standard = fixedNumbers({static_cast<double>(standard)});
        p.suggested = p.hard = range;
        p.assign = [to](void* s, const Resolved& r) { static_cast<T*>(s)->*to = static_cast<int>(r.number[0]); };
        return *this;
    }
    Describe& wholes(const char* id, glm::ivec3 T::*to, glm::ivec3 standard, Range range, const char* summary) {
        Parameter& p = add(ParameterType::whole, id, summary);
        p.components = 3;
        p.standard = fixedNumbers({double(standard.x), double(standard.y), double(standard.z)});
        p.suggested = p.hard = range;
        p.assign = [to](void* s, const Resolved& r) {
            static_cast<T*>(s)->*to = glm::ivec3(int(r.number[0]), int(r.number[1]), int(r.number[2]));
        };
        return *this;
    }
    Describe& toggle(const char* id, bool T::*to, bool standard, const char* summary) {
        Parameter& p = add(ParameterType::toggle, id, summary);
        p.components = 0;
        p.standard = standard;
        p.assign = [to](void* s, const Resolved& r) { static_cast<T*>(s)->*to = r.on; };
        return *this;
    }
    /// The enum's values count the choices from 0; the first choice is the default unless `standard` names another.
    template <class E>
    Describe& choice(const char* id, E T::*to, std::vector<Choice> choices, const char* summary) {
        Parameter& p = add(ParameterType::choice, id, summary);
        p.components = 0;
        p.standard = choices.front().id;
        p.choices = std::move(choices);
        p.assign = [to](void* s, const Resolved& r) { static_cast<T*>(s)->*to = static_cast<E>(r.choice); };
        return *this;
    }
    Describe& colour(const char* id, glm::vec4 T::*to, glm::dvec4 standard, const char* summary) {
        Parameter& p = add(ParameterType::colour, id, summary);
        p.components = 4;
        p.standard = fixedNumbers({standard.x, standard.y, standard.z, standard.w});
        p.hard = {-64, 64};
        p.assign = [to](void* s, const Resolved& r) {
            static_cast<T*>(s)->*to = glm::vec4(r.number[0], r.number[1], r.number[2], r.number[3]);
        };
        return *this;
    }
    Describe& ramp(const char* id, RampTable T::*to, Ramp standard, const char* summary) {
        Parameter& p = add(ParameterType::ramp, id, summary);
        p.components = 0;
        p.standard = std::move(standard);
        p.assign = [to](void* s, const Resolved& r) {
            RampTable& table = static_cast<T*>(s)->*to;
            table.count = static_cast<int>(std::min<std::size_t>(r.ramp.size(), mostRampStops));
            for (int i = 0; i < table.count; ++i) {
                table.at[i] = static_cast<float>(r.ramp[i].at);
                const auto& c = r.ramp[i].colour;
                table.colour[i] = glm::vec4(c[0], c[1], c[2], c[3]);
            }
        };
        return *this;
    }
    Describe& points(const char* id, std::vector<glm::vec3> T::*to, Points standard, const char* summary) {
        Parameter& p = add(ParameterType::points, id, summary);
        p.components = 0;
        p.unit = "m";
        p.standard = std::move(standard);
        p.assign = [to](void* s, const Resolved& r) {
            auto& places = static_cast<T*>(s)->*to;
            places.clear();
            for (const auto& point : r.points) places.emplace_back(point[0], point[1], point[2]);
        };
        return *this;
    }
    Describe& curve(const char* id, CurvePoints T::*to, CurvePoints standard, const char* summary) {
        Parameter& p = add(ParameterType::curve, id, summary);
        p.components = 0;
        p.standard = std::move(standard);
        p.assign = [to](void* s, const Resolved& r) { static_cast<T*>(s)->*to = r.curve; };
        return *this;
    }
    /// M takes a Formula.
    template <class M>
    Describe& formula(const char* id, M T::*to, const char* standard, const char* summary) {
        Parameter& p = add(ParameterType::formula, id, summary);
        p.components = 0;
        p.standard = Formula{standard, {}};
        p.assign = [to](void* s, const Resolved& r) { static_cast<T*>(s)->*to = r.formula; };
        return *this;
    }
    /// Ids of chosen instances with spaces between.
    Describe& instances(const char* id, std::string T::*to, const char* summary) {
        return words(ParameterType::instances, id, to, "", summary);
    }
    Describe& text(const char* id, std::string T::*to, const char* standard, const char* summary) {
        return words(ParameterType::text, id, to, standard, summary);
    }
    /// A file in the project's folder; `endings` are in small letters.
    Describe& file(const char* id, std::string T::*to, std::vector<std::string> endings, const char* summary) {
        words(ParameterType::file, id, to, "", summary);
        return last().endings = std::move(endings), *this;
    }
    Describe& reference(const char* id, ObjectId T::*to, std::vector<ObjectType> allowed, const char* summary) {
        Parameter& p = add(ParameterType::reference, id, summary);
        p.components = 0;
        p.standard = ObjectId{};
        p.references = std::move(allowed);
        p.assign = [to](void* s, const Resolved& r) { static_cast<T*>(s)->*to = r.object; };
        return *this;
    }

    /// Plain trade words that people bring, by which the kind is found too.
    Describe& found(const char* words) { return kind_.words = words, *this; }
    Describe& needs(Needs what) { return last().needs = what, *this; }
    /// A reference that nobody needs to set.
    Describe& optional() { return last().optional = true, *this; }
    /// A reference that begins with a named value of this name, made where the swarm has none that is called so.
    Describe& begins(const char* named) { return last().begins = named, *this; }
    Describe& hard(double low, double high) { return last().hard = {low, high}, *this; }
    Describe& unit(const char* unit) { return last().unit = unit, *this; }
    Describe& label(const char* label) { return last().label = label, *this; }
    Describe& only(const char* parameter, std::vector<std::string> choices) {
        return last().when.push_back({parameter, std::move(choices)}), *this;
    }
    /// Another choice than the first as the default.
    Describe& standard(const char* choice) { return last().standard = std::string(choice), *this; }
    /// A text that names an installed font; they are offered.
    Describe& families() { return last().families = true, *this; }
    /// A file to which those that are numbered like it belong.
    Describe& numbered() { return last().numbered = true, *this; }
    /// A text of several lines.
    Describe& lines() { return last().lines = true, *this; }
    Describe& perInstance() { return last().perInstance = true, *this; }
    /// One value for the whole project: can't be keyed.
    Describe& still() { return last().still = true, *this; }
    /// What is heard at the frame, 0 … 1: can't be set, only followed.
    Describe& heard() { return last().heard = last().still = true, *this; }
    Describe& opaque() { return last().opaque = true, *this; }
    /// The version of the kind that has the parameter first.
    Describe& since(int version) { return last().since = version, *this; }
    /// Parts of earlier versions are read by what this one changed.
    Describe& migrated(Migration migration) {
        kind_.version = migration.version;
        kind_.migrations.push_back(std::move(migration));
        return *this;
    }

    /// The family's own functions are set on this before it is converted.
    K& kind() { return kind_; }

  private:
    Parameter& last() { return kind_.parameters.back(); }

    Parameter& add(ParameterType type, const char* id, const char* summary) {
        Parameter p;
        p.type = type;
        p.id = id;
        p.summary = summary;
        for (const char* c = id; *c; ++c) {  // softEdge → Soft edge
            if (c == id)
                p.label += static_cast<char>(std::toupper(*c));
            else if (std::isupper(*c))
                (p.label += ' ') += static_cast<char>(std::tolower(*c));
            else
                p.label += *c;
        }
        kind_.parameters.push_back(std::move(p));
        return last();
    }
    Describe& scalar(ParameterType type, const char* id, float T::*to, double standard, Range range, const char* summary,
                     const char* unit) {
        Parameter& p = add(type, id, summary);
        p.standard = fixedNumbers({standard});
        p.suggested = range;
        p.unit = unit;
        p.assign = [to](void* s, const Resolved& r) { static_cast<T*>(s)->*to = static_cast<float>(r.number[0]); };
        return *this;
    }
    Describe& triple(ParameterType type, const char* id, glm::vec3 T::*to, glm::dvec3 standard, Range range, const char* summary,
                     const char* unit) {
        Parameter& p = add(type, id, summary);
        p.components = 3;
        p.standard = fixedNumbers({standard.x, standard.y, standard.z});
        p.suggested = range;
        p.unit = unit;
        p.assign = [to](void* s, const Resolved& r) { static_cast<T*>(s)->*to = glm::vec3(r.number[0], r.number[1], r.number[2]); };
        return *this;
    }
    Describe& words(ParameterType type, const char* id, std::string T::*to, const char* standard, const char* summary) {
        Parameter& p = add(type, id, summary);
        p.components = 0;
        p.standard = std::string(standard);
        p.assign = [to](void* s, const Resolved& r) { static_cast<T*>(s)->*to = r.text; };
        return *this;
    }

    K kind_;
};

}  // namespace gswarm
