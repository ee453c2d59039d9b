#pragma once
#include <string>
#include <string_view>
#include <vector>

#include "core/base/error.h"
#include "core/formula/operation.h"

namespace gswarm {

/// Something in a formula that can't be understood: one sentence, and where.
class FormulaError : public Error {
  public:
    FormulaError(const std::string& sentence, std::size_t place) : Error(sentence), place(place) {}
    std::size_t place;  ///< byte in the text
};

/// One piece of a formula's text.
struct Token {
    enum class Type { number, name, sign, end } type;
    std::size_t place;  ///< byte in the text
    std::string text;   ///< as written; names of other things may have points and quotes: 'Ball zone'.radius
    double value = 0;   ///< of a number
};
/// Throws FormulaError at a character that means nothing here.
std::vector<Token> tokensOf(std::string_view text);

/// A formula understood: a tree in one list, children before parents, the root last.
struct Expression {
    enum class Type { number, truth };
    struct Node {
        enum class Kind { constant, name, operation } kind;
        Type type = Type::number;
        double value = 0;  ///< of a constant
        std::string name;  ///< as written
        Operation operation = Operation::add;
        std::vector<int> of;  ///< its parts, indices into nodes
        std::size_t place = 0;
    };
    std::vector<Node> nodes;
};

/// Numbers, names, + − * / ^, comparisons, && || !, a ? b : c, and the functions of operation.h. Comparisons give truths,
/// which are asked by ?: and joined by && || !, and can't be calculated with. Nested at most 64 deep, at most 1000 parts,
/// at most longestFormula characters. Throws FormulaError.
Expression parseFormula(std::string_view text);
/// The same for what is true or not, such as y > 1: 1 where it is true, 0 elsewhere.
Expression parseCondition(std::string_view text);

}  // namespace gswarm
