#include "app/settings/arithmetic.h"

#include <cmath>

namespace {

/// Recursive descent over the text; `failed` once anything is out of place.
struct Reader {
    QString text;
    QString unit;
    double rate;
    int at = 0;
    int depth = 0;
    bool failed = false;

    void skip() {
        while (at < text.size() && text[at].isSpace()) ++at;
    }
    bool take(QChar c) {
        skip();
        if (at >= text.size() || text[at] != c) return false;
        ++at;
        return true;
    }
    double sum() {
        double value = product();
        for (;;) {
            if (take('+'))
                value += product();
            else if (take('-'))
                value -= product();
            else
                return value;
        }
    }
    double product() {
        double value = signedTerm();
        for (;;) {
            if (take('*'))
                value *= signedTerm();
            else if (take('/'))
                value /= signedTerm();
            else
                return value;
        }
    }
    double signedTerm() {
        if (take('-')) return ++depth > 64 ? fail() : -signedTerm();
        return term();
    }
    double fail() {
        failed = true;
        return 0;
    }
    double term() {
        if (take('(')) {
            if (++depth > 64) return fail();
            const double value = sum();
            return take(')') ? value : fail();
        }
        skip();
        const int start = at;
        while (at < text.size() && (text[at].isDigit() || text[at] == '.')) ++at;
        bool fine = false;
        const double value = text.mid(start, at - start).toDouble(&fine);
        return fine ? value * factor() : fail();
    }
    double factor() {
        skip();
        const int start = at;
        while (at < text.size() && (text[at].isLetter() || text[at] == QChar(0xB0) || text[at] == '%')) ++at;
        const QString said = text.mid(start, at - start).toLower();
        if (said.isEmpty() || said == unit.toLower()) return 1;
        if (unit == "m" && said == "cm") return 0.01;
        if (unit == "m" && said == "mm") return 0.001;
        if (unit == "m" && said == "km") return 1000;
        if (unit == QString::fromUtf8("°") && said == "deg") return 1;
        if (unit == QString::fromUtf8("°") && (said == "turn" || said == "turns")) return 360;
        if (unit.startsWith("frame") && said == "f") return 1;
        if (unit.startsWith("frame") && said == "s") return rate;
        return fail();
    }
};

}  // namespace

std::optional<double> arithmetic(const QString& typed, const QString& unit, double framesPerSecond) {
    QString text = typed;
    text.replace(QChar(0x2212), '-').replace(',', '.');
    Reader reader{text, unit, framesPerSecond};
    const double value = reader.sum();
    reader.skip();
    if (reader.failed || reader.at != text.size() || !std::isfinite(value)) return std::nullopt;
    return value;
}
