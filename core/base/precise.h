#pragma once
#include <bit>
#include <cmath>
#include <cstdint>

/// Sine, exponential and logarithm in double from additions and multiplications only, so that every machine gets the
/// same bits; the C library's differ from version to version. For what is computed once per home, not per frame.
namespace gswarm::precise {

struct SineCosine {
    double sine, cosine;
};

/// Of an angle in turns, error below 1e-15. Taylor series on ± an eighth of a turn.
inline SineCosine sineCosineOfTurns(double turns) {
    const double t = (turns - std::floor(turns)) * 4;
    const double quarter = std::floor(t + 0.5);
    const double r = (t - quarter) * 1.57079632679489661923, r2 = r * r;
    double s = -1.0 / 1307674368000 * r2 + 1.0 / 6227020800;
    s = -(1.0 / 39916800 - s * r2);
    s = 1.0 / 362880 + s * r2;
    s = -(1.0 / 5040 - s * r2);
    s = 1.0 / 120 + s * r2;
    s = -(1.0 / 6 - s * r2);
    s = r + r * r2 * s;
    double c = 1.0 / 20922789888000 * r2 - 1.0 / 87178291200;
    c = 1.0 / 479001600 + c * r2;
    c = -(1.0 / 3628800 - c * r2);
    c = 1.0 / 40320 + c * r2;
    c = -(1.0 / 720 - c * r2);
    c = 1.0 / 24 + c * r2;
    c = -(0.5 - c * r2);
    c = 1 + c * r2;
    switch (static_cast<int>(quarter) & 3) {
        case 0:
            return {s, c};
        case 1:
            return {c, -s};
        case 2:
            return {-s, -c};
        default:
            return {-c, s};
    }
}
inline SineCosine sineCosine(double radians) { return sineCosineOfTurns(radians * 0.15915494309189533577); }

/// Natural logarithm of a positive finite number, error below 1e-15 (atanh series on a mantissa in √½ … √2).
inline double log(double x) {
    const auto bits = std::bit_cast<std::uint64_t>(x);
    int exponent = static_cast<int>(bits >> 52 & 0x7FF) - 1023;
    double m = std::bit_cast<double>((bits & 0x000FFFFFFFFFFFFFull) | 0x3FF0000000000000ull);
    if (m > 1.41421356237309504880) m *= 0.5, ++exponent;
    const double z = (m - 1) / (m + 1), z2 = z * z;
    double p = 0;
    for (int k = 21; k >= 1; k -= 2) p = p * z2 + 2.0 / k;
    return exponent * 0.69314718055994530942 + p * z;
}

/// e to the power x for |x| < 700 (Taylor series on ± ln 2 / 2).
inline double exp(double x) {
    const double whole = std::floor(x * 1.44269504088896340736 + 0.5);
    const double f = (x - whole * 0.693147180369123816490) - whole * 1.90821492927058770002e-10;
    double p = 1;
    for (int k = 14; k >= 1; --k) p = 1 + p * f / k;
    return p * std::bit_cast<double>(static_cast<std::uint64_t>(static_cast<std::int64_t>(whole) + 1023) << 52);
}

/// base to the power exponent for a positive base.
inline double power(double base, double exponent) { return base == 1 ? 1 : exp(log(base) * exponent); }

}  // namespace gswarm::precise
