// Recursive descent over tokens, each level of precedence one function.
#include "core/formula/parse.h"

#include <charconv>
#include <cmath>

#include "core/scene/value.h"

namespace gswarm {
namespace {

constexpr int deepest = 2 * 64;  // a bracket is two levels: what it chooses from, and its sign
constexpr std::size_t mostNodes = 1000;

bool startsName(char c) {
    return std::isalpha(static_cast<unsigned char>(c)) || c == '_' || c == '\'' || static_cast<unsigned char>(c) >= 0x80;
}
bool inName(char c) { return std::isalnum(static_cast<unsigned char>(c)) || c == '_' || static_cast<unsigned char>(c) >= 0x80; }
bool digit(char c) { return c >= '0' && c <= '9'; }

std::size_t nameEnd(std::string_view text, std::size_t at) {
    for (;;) {
        if (at < text.size() && text[at] == '\'') {
            const auto close = text.find('\'', at + 1);
            if (close == std::string_view::npos) throw FormulaError("The quote that opens here is never closed.", at);
            at = close + 1;
        } else {
            while (at < text.size() && inName(text[at])) ++at;
        }
        const bool goesOn = at + 1 < text.size() && text[at] == '.' && (startsName(text[at + 1]));
        if (!goesOn) return at;
        ++at;
    }
}

using Node = Expression::Node;
using Type = Expression::Type;

class Parser {
  public:
    explicit Parser(std::string_view text) : tokens_(tokensOf(text)) {}

    Expression whole(Type gives) {
        if (now().type == Token::Type::end) throw FormulaError("The formula is empty; type a number, such as 0.", 0);
        const int root = choice();
        if (now().type != Token::Type::end) throw FormulaError("“" + now().text + "” is not expected here.", now().place);
        want(root, gives, gives == Type::number ? "The whole formula" : "A condition");
        return std::move(out_);
    }

  private:
    const Token& now() const { return tokens_[at_]; }
    bool sign(std::string_view text) const { return now().type == Token::Type::sign && now().text == text; }
    bool take(std::string_view text) {
        if (!sign(text)) return false;
        ++at_;
        return true;
    }
    void expect(std::string_view text) {
        if (take(text)) return;
        const std::string there = now().type == Token::Type::end ? "at the end" : "before “" + now().text + "”";
        throw FormulaError("“" + std::string(text) + "” is missing " + there + ".", now().place);
    }
    void want(int node, Type type, const std::string& who) const {
        const Node& n = out_.nodes[static_cast<std::size_t>(node)];
        if (n.type == type) return;
        throw FormulaError(type == Type::number ? who + " takes a number here, not a comparison; write (…) ? 1 : 0."
                                                : who + " takes a comparison here, such as x > 0, not a number.",
                           n.place);
    }
    int add(Node node) {
        if (out_.nodes.size() >= mostNodes)
            throw FormulaError("The formula is too long to be worked out; split it over two gestures.", node.place);
        out_.nodes.push_back(std::move(node));
        return static_cast<int>(out_.nodes.size()) - 1;
    }
    int operation(Operation op, std::vector<int> of, std::size_t place, Type gives = Type::number) {
        return add({Node::Kind::operation, gives, 0, {}, op, std::move(of), place});
    }
    /// Counts how deep the formula is nested while one level is read.
    struct Level {
        explicit Level(Parser& p) : parser(p) {
            if (++parser.depth_ > deepest)
                throw FormulaError("The formula is nested too deeply here; split it over two gestures.", parser.now().place);
        }
        ~Level() { --parser.depth_; }
        Parser& parser;
    };

    int choice() {
        const Level level(*this);
        const int condition = either();
        const std::size_t place = now().place;
        if (!take("?")) return condition;
        want(condition, Type::truth, "“?”");
        const int yes = choice();
        expect(":");
        const int no = choice();
        want(yes, Type::number, "“?”");
        want(no, Type::number, "“:”");
        return operation(Operation::select, {condition, yes, no}, place);
    }
    int either() {
        int left = both();
        while (sign("||")) left = joined(Operation::either, left, &Parser::both);
        return left;
    }
    int both() {
        int left = comparison();
        while (sign("&&")) left = joined(Operation::both, left, &Parser::comparison);
        return left;
    }
    int joined(Operation op, int left, int (Parser::*next)()) {
        const Token token = now();
        ++at_;
        const int right = (this->*next)();
        want(left, Type::truth, "“" + token.text + "”");
        want(right, Type::truth, "“" + token.text + "”");
        return operation(op, {left, right}, token.place, Type::truth);
    }
    int comparison() {
        const int left = sum();
        const Token token = now();
        if (!(sign("<") || sign("<=") || sign(">") || sign(">=") || sign("==") || sign("!="))) return left;
        ++at_;
        const int right = sum();
        want(left, Type::number, "“" + token.text + "”");
        want(right, Type::number, "“" + token.text + "”");
        if (token.text == "<") return operation(Operation::less, {left, right}, token.place, Type::truth);
        if (token.text == ">") return operation(Operation::less, {right, left}, token.place, Type::truth);
        if (token.text == "<=") return operation(Operation::lessOrEqual, {left, right}, token.place, Type::truth);
        if (token.text == ">=") return operation(Operation::lessOrEqual, {right, left}, token.place, Type::truth);
        return operation(token.text == "==" ? Operation::equal : Operation::unequal, {left, right}, token.place, Type::truth);
    }
    int calculated(Operation op, int left, int (Parser::*next)()) {
        const Token token = now();
        ++at_;
        const int right = (this->*next)();
        want(left, Type::number, "“" + token.text + "”");
        want(right, Type::number, "“" + token.text + "”");
        return operation(op, {left, right}, token.place);
    }
    int sum() {
        int left = product();
        while (sign("+") || sign("-")) left = calculated(sign("+") ? Operation::add : Operation::subtract, left, &Parser::product);
        return left;
    }
    int product() {
        int left = signedPart();
        while (sign("*") || sign("/")) left = calculated(sign("*") ? Operation::multiply : Operation::divide, left, &Parser::signedPart);
        return left;
    }
    int signedPart() {
        const Level level(*this);
        const std::size_t place = now().place;
        if (take("+")) return signedPart();
        if (take("-")) {
            const int of = signedPart();
            want(of, Type::number, "“-”");
            return operation(Operation::negate, {of}, place);
        }
        if (take("!")) {
            const int of = signedPart();
            want(of, Type::truth, "“!”");
            return operation(Operation::no, {of}, place, Type::truth);
        }
        const int base = single();
        if (sign("^")) return calculated(Operation::pow, base, &Parser::signedPart);
        return base;
    }
    int single() {
        const Token token = now();
        if (token.type == Token::Type::number) {
            ++at_;
            return add({Node::Kind::constant, Type::number, token.value, {}, {}, {}, token.place});
        }
        if (token.type == Token::Type::name) {
            ++at_;
            if (sign("(")) return call(token);
            if (findFormulaFunction(token.text))
                throw FormulaError("“" + token.text + "” takes its numbers in brackets: " + findFormulaFunction(token.text)->shown + ".",
                                   token.place);
            if (token.text == "pi") return add({Node::Kind::constant, Type::number, 3.14159265358979323846, {}, {}, {}, token.place});
            return add({Node::Kind::name, Type::number, 0, token.text, {}, {}, token.place});
        }
        if (take("(")) {
            const int inside = choice();
            expect(")");
            return inside;
        }
        if (token.type == Token::Type::end) throw FormulaError("Something is missing at the end.", token.place);
        throw FormulaError("“" + token.text + "” is not expected here; a number or a name is.", token.place);
    }
    int call(const Token& name) {
        const FormulaFunction* function = findFormulaFunction(name.text);
        if (!function) throw FormulaError("There is no function “" + name.text + "”.", name.place);
        expect("(");
        std::vector<int> of;
        if (!sign(")")) do
                of.push_back(choice());
            while (take(","));
        expect(")");
        if (static_cast<int>(of.size()) != function->arguments)
            throw FormulaError("“" + name.text + "” takes " + std::to_string(function->arguments) +
                                   (function->arguments == 1 ? " number" : " numbers") + ", not " + std::to_string(of.size()) + ": " +
                                   function->shown + ".",
                               name.place);
        for (const int argument : of) want(argument, Type::number, "“" + name.text + "”");
        return operation(function->operation, std::move(of), name.place);
    }

    std::vector<Token> tokens_;
    std::size_t at_ = 0;
    int depth_ = 0;
    Expression out_;
};

}  // namespace

std::vector<Token> tokensOf(std::string_view text) {
    std::vector<Token> tokens;
    for (std::size_t at = 0; at < text.size();) {
        const char c = text[at];
        if (c == ' ' || c == '\t' || c == '\n' || c == '\r') {
            ++at;
        } else if (digit(c) || (c == '.' && at + 1 < text.size() && digit(text[at + 1]))) {
            double value = 0;
            const auto [end, error] = std::from_chars(text.data() + at, text.data() + text.size(), value);
            const auto length = static_cast<std::size_t>(end - text.data()) - at;
            if (error != std::errc() || !(std::abs(value) <= 1e30)) throw FormulaError("This number is too large or too small.", at);
            tokens.push_back({Token::Type::number, at, std::string(text.substr(at, length)), value});
            at += length;
        } else if (startsName(c)) {
            const std::size_t end = nameEnd(text, at);
            tokens.push_back({Token::Type::name, at, std::string(text.substr(at, end - at)), 0});
            at = end;
        } else {
            static constexpr std::string_view pairs[] = {"<=", ">=", "==", "!=", "&&", "||"};
            std::size_t length = 1;
            for (const auto pair : pairs)
                if (text.substr(at, 2) == pair) length = 2;
            if (length == 1 && std::string_view("+-*/^<>!?:(),").find(c) == std::string_view::npos)
                throw FormulaError(
                    static_cast<unsigned char>(c) < 0x20 || c == 0x7f
                        ? "A character that can't be seen (code " + std::to_string(static_cast<int>(c)) + ") means nothing in a formula."
                        : "“" + std::string(1, c) + "” means nothing in a formula.",
                    at);
            tokens.push_back({Token::Type::sign, at, std::string(text.substr(at, length)), 0});
            at += length;
        }
    }
    tokens.push_back({Token::Type::end, text.size(), {}, 0});
    return tokens;
}

Expression parseFormula(std::string_view text) {
    if (text.size() > longestFormula)
        throw FormulaError("A formula has at most " + std::to_string(longestFormula) + " characters.", longestFormula);
    return Parser(text).whole(Type::number);
}

Expression parseCondition(std::string_view text) {
    if (text.size() > longestFormula)
        throw FormulaError("A condition has at most " + std::to_string(longestFormula) + " characters.", longestFormula);
    return Parser(text).whole(Type::truth);
}

}  // namespace gswarm
