#pragma once
#include <functional>
#include <QString>

/// Something that can be done with the whole window: found by its label and its words, done by its shortcut.
struct Command {
    QString id;        ///< permanent; shortcuts of one's own are kept by it
    QString label;     ///< in the finder and in menus
    QString shortcut;  ///< the usual one; empty for none
    QString words;     ///< plain trade words that people bring, by which it is found too
    std::function<void()> act;
    std::function<bool()> possible;
};
