#pragma once
#include <cstdint>
#include <functional>
#include <ostream>
#include <string>
#include <vector>

#include "core/base/progress.h"
#include "core/scene/frame_range.h"

/// USD's text format, as far as values that change from frame to frame need it. (OpenUSD, “Sdf text file format”.)
namespace gswarm::usd {

/// What an attribute is at one frame: numbers of `width` each, in brackets where it is an array.
struct Value {
    std::vector<float> numbers;
    std::vector<std::int64_t> wholes;
    std::string word;  ///< a token, or the path of an asset
    int width = 1;
    bool array = false;
    bool path = false;  ///< the word is one

    bool operator==(const Value&) const = default;
};
Value number(double value);
Value three(float x, float y, float z);
/// So many numbers together, as one place or one colour.
Value tuple(std::vector<float> together);
Value token(std::string word);
/// The path of a file beside the stage.
Value asset(std::string path);
Value numbers(std::vector<float> values, int width);
Value wholes(std::vector<std::int64_t> values);

/// "point3f[] positions", what it is at a frame, and its metadata, one a line.
struct Attribute {
    std::string declared;
    std::function<Value(int frame)> at;
    std::vector<std::string> meta;
};

/// A thing of the stage.
struct Prim {
    std::string type, name;
    std::vector<std::string> meta;
    std::vector<Attribute> attributes;
    std::vector<std::string> lines;  ///< written as they are: relationships, connections
    std::vector<Prim> children;
};

/// Writes prims with their values over a range: an attribute that stays the same as one value, any other with a sample at each frame
/// at which it differs from a neighbour. First every frame is asked for all attributes, then every attribute that changes for its
/// frames: no more than one value is held at a time. Throws Cancelled.
void write(std::ostream& out, const std::vector<Prim>& prims, const FrameRange& range, Progress& progress);

/// A name as an identifier that is not among those taken, which it joins.
std::string identifier(const std::string& name, std::vector<std::string>& taken);
/// Text in quotation marks.
std::string quoted(const std::string& text);

}  // namespace gswarm::usd
