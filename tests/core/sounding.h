#pragma once
#include <cmath>
#include <cstdint>
#include <cstring>
#include <filesystem>
#include <fstream>
#include <functional>
#include <numbers>
#include <string>
#include <vector>

#include "core/base/chance.h"
#include "core/sound/sound.h"

/// Sounds made from a function of time, in memory and as WAV files.
namespace gswarm::sounding {

using Wave = std::function<double(double seconds)>;

inline Wave sine(double hertz, double loud = 1) {
    return [=](double t) { return loud * std::sin(2 * std::numbers::pi * hertz * t); };
}
/// Hiss: every sample another number.
inline Wave hiss(double loud = 0.5) {
    return [=](double t) { return loud * (2 * double(chance(7, static_cast<std::uint64_t>(std::llround(t * soundRate)), 3)) - 1); };
}
/// A click of a millisecond at each of these seconds.
inline Wave clicks(std::vector<double> at) {
    return [at = std::move(at)](double t) {
        for (const double begins : at)
            if (t >= begins - 1e-9 && t < begins + 0.001) return 0.8;
        return 0.0;
    };
}

/// A sound in memory, of one channel.
inline Sound soundOf(const Wave& wave, double seconds) {
    Sound sound;
    sound.facts.length = std::llround(seconds * soundRate);
    sound.facts.fileRate = soundRate, sound.facts.fileChannels = 1;
    sound.piece = [wave, facts = sound.facts](std::int64_t number) {
        SoundPiece piece{1, std::vector<float>(static_cast<std::size_t>(facts.lengthOf(number)))};
        for (std::size_t i = 0; i < piece.samples.size(); ++i)
            piece.samples[i] = static_cast<float>(wave(double(number * soundPieceLength + static_cast<std::int64_t>(i)) / soundRate));
        return std::make_shared<const SoundPiece>(std::move(piece));
    };
    return sound;
}
inline SoundPart wholeOf(const Sound& sound, bool repeats = false) { return {0, sound.facts.length, repeats}; }

template <class T>
void put(std::string& bytes, T value) {
    bytes.append(reinterpret_cast<const char*>(&value), sizeof value);
}
/// A WAV file's bytes: 16-bit whole numbers, or 32-bit floating ones. Every channel is the wave, half as loud as the one before.
inline std::string wavBytes(const Wave& wave, double seconds, int rate = soundRate, int channels = 1, bool floating = true) {
    const auto frames = static_cast<std::uint32_t>(std::llround(seconds * rate));
    const std::uint16_t bytesEach = floating ? 4 : 2;
    const std::uint32_t data = frames * static_cast<std::uint32_t>(channels) * bytesEach;
    std::string bytes = "RIFF";
    put<std::uint32_t>(bytes, 36 + data);
    bytes += "WAVEfmt ";
    put<std::uint32_t>(bytes, 16);
    put<std::uint16_t>(bytes, floating ? 3 : 1);
    put<std::uint16_t>(bytes, static_cast<std::uint16_t>(channels));
    put<std::uint32_t>(bytes, static_cast<std::uint32_t>(rate));
    put<std::uint32_t>(bytes, static_cast<std::uint32_t>(rate) * static_cast<std::uint32_t>(channels) * bytesEach);
    put<std::uint16_t>(bytes, static_cast<std::uint16_t>(channels * bytesEach));
    put<std::uint16_t>(bytes, static_cast<std::uint16_t>(8 * bytesEach));
    bytes += "data";
    put<std::uint32_t>(bytes, data);
    for (std::uint32_t i = 0; i < frames; ++i) {
        double value = wave(double(i) / rate);
        for (int c = 0; c < channels; ++c, value /= 2)
            floating ? put(bytes, static_cast<float>(value)) : put(bytes, static_cast<std::int16_t>(std::lround(32767 * value)));
    }
    return bytes;
}
inline void writeSound(const std::filesystem::path& path, const std::string& bytes) {
    std::filesystem::create_directories(path.parent_path());
    std::ofstream(path, std::ios::binary) << bytes;
}

}  // namespace gswarm::sounding
