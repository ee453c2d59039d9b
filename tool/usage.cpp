#include "tool/usage.h"

#include <cmath>

#include "core/base/error.h"
#include "core/base/text.h"

namespace gswarm::tool {

CLI::Validator frameNumber() {
    return CLI::Validator(
        [](const std::string& text) {
            const auto number = numberIn(text);
            return number && std::abs(*number) <= 1e7 ? std::string()
                                                      : quotedPiece(text) + " is no frame; write a number such as 75 or 12.5";
        },
        "FRAME");
}

CLI::Validator wholeBetween(long long low, long long high) {
    return CLI::Validator(
        [low, high](const std::string& text) {
            const auto number = wholeNumberIn(text);
            return number && *number >= low && *number <= high
                       ? std::string()
                       : quotedPiece(text) + " is no whole number from " + std::to_string(low) + " to " + std::to_string(high);
        },
        "");
}

FrameRange parseFrames(const std::string& text) {
    const auto dash = text.find('-', 1);
    if (dash != std::string::npos) {
        const auto first = wholeNumberIn(text.substr(0, dash)), last = wholeNumberIn(text.substr(dash + 1));
        constexpr long long most = 10'000'000;
        if (first && last && *first <= *last && *first >= -most && *last <= most)
            return {static_cast<int>(*first), static_cast<int>(*last)};
    }
    throw UsageError("--frames takes A-B with A not above B, such as 0-124, not “" + text + "”.");
}

TraceSize parseSize(const std::string& text) {
    const auto times = text.find('x');
    const auto width = wholeNumberIn(text.substr(0, times));
    const auto height = times == std::string::npos ? std::nullopt : wholeNumberIn(text.substr(times + 1));
    TraceSize size;
    if (width && height && std::abs(*width) < 1'000'000 && std::abs(*height) < 1'000'000) {
        size.width = static_cast<int>(*width);
        size.height = static_cast<int>(*height);
        try {
            checkTraceSize(size);
            return size;
        } catch (const Error& error) {
            throw UsageError("--size “" + text + "”: " + error.what());
        }
    }
    throw UsageError("--size takes WIDTHxHEIGHT in pixels, such as 1920x1080, not “" + text + "”.");
}

}  // namespace gswarm::tool
