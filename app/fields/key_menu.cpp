#include "app/fields/key_menu.h"

#include <algorithm>
#include <QMenu>

#include "app/document/document.h"

using namespace gswarm;

namespace {

struct Named {
    const char* label;
    int value;
};
constexpr Named beyonds[] = {{"Hold", int(Beyond::hold)},
                             {"Repeat", int(Beyond::repeat)},
                             {"Back and forth", int(Beyond::backAndForth)},
                             {"Continue", int(Beyond::goOn)}};

std::vector<Address> numbersOf(const std::vector<KeyPlace>& keys) {
    std::vector<Address> out;
    for (const KeyPlace& key : keys)
        if (std::find(out.begin(), out.end(), key.number) == out.end()) out.push_back(key.number);
    return out;
}

/// What chosen keys become when their frames change: they stay chosen.
void keepChosen(Document& document, std::vector<KeyPlace>& keys) {
    std::erase_if(keys, [&](const KeyPlace& key) {
        const Track& track = trackAt(document.scene(), key.number);
        return !track.keyed() || std::none_of(track.keys->begin(), track.keys->end(), [&](const Key& k) { return k.frame == key.frame; });
    });
}

}  // namespace

const std::vector<EaseChoice>& easeChoices() {
    static const std::vector<EaseChoice> all = {{"Eased", Ease::eased},
                                                {"Straight", Ease::linear},
                                                {"Slow start", Ease::slowStart},
                                                {"Slow end", Ease::slowEnd},
                                                {"Past the end and back", Ease::overshoot},
                                                {"Back first", Ease::backFirst},
                                                {"Hold", Ease::hold},
                                                {"Free: drag its handles in the curves", Ease::free}};
    return all;
}

bool showKeyMenu(Document& document, std::vector<KeyPlace>& keys, CopiedKeys& copied, const QPoint& at, QWidget* parent) {
    QMenu menu(parent);
    menu.setObjectName("keyMenu");
    const auto edit = [&](const Document::MakeEdit& make) {
        document.edit(make);
        document.seal();
    };
    QMenu* ease = menu.addMenu("To the next key");
    for (const EaseChoice& one : easeChoices())
        QObject::connect(ease->addAction(one.label), &QAction::triggered, &menu,
                         [&, one] { edit([&](const Scene& s) { return setKeyEase(s, keys, one.ease); }); });
    const auto numbers = numbersOf(keys);
    const Track& first = trackAt(document.scene(), numbers.front());
    for (const bool after : {false, true}) {
        QMenu* beyond = menu.addMenu(after ? "After the last key" : "Before the first key");
        for (const Named& one : beyonds) {
            QAction* action = beyond->addAction(one.label);
            action->setCheckable(true);
            action->setChecked(int(after ? first.after : first.before) == one.value);
            QObject::connect(action, &QAction::triggered, &menu, [&, one, after] {
                const auto to = static_cast<Beyond>(one.value);
                edit([&](const Scene& s) { return setBeyond(s, numbers, after ? first.before : to, after ? to : first.after); });
            });
        }
    }
    menu.addSeparator();
    double begin = keys.front().frame;
    for (const KeyPlace& key : keys) begin = std::min(begin, key.frame);
    const auto stretch = [&](double factor) {
        edit([&](const Scene& s) { return stretchKeys(s, keys, begin, factor); });
        for (KeyPlace& key : keys) key.frame = std::round(begin + (key.frame - begin) * factor);
    };
    QAction* const twice = menu.addAction("Stretch to twice the time (or drag with Alt)");
    QAction* const half = menu.addAction("Squeeze to half the time");
    QAction* const mirror = menu.addAction("Mirror in time");
    QAction* const snap = menu.addAction("Snap to whole frames");
    for (QAction* action : {twice, half, mirror}) action->setEnabled(keys.size() > 1);
    menu.addSeparator();
    QAction* const copy = menu.addAction("Copy (Ctrl+C)");
    QAction* const paste = menu.addAction("Paste at the playhead (Ctrl+V)");
    paste->setEnabled(!copied.empty());
    QAction* const away = menu.addAction("Delete");
    menu.addSeparator();
    QAction* const curves = menu.addAction("Show curves");
    const QAction* done = menu.exec(at);
    if (done == twice) stretch(2);
    if (done == half) stretch(0.5);
    if (done == mirror) edit([&](const Scene& s) { return mirrorKeys(s, keys); });
    if (done == snap) edit([&](const Scene& s) { return snapKeys(s, keys); });
    if (done == copy) copied = copyKeys(document.scene(), keys);
    if (done == paste) edit([&](const Scene& s) { return pasteKeys(s, copied, {}, document.frame()); });
    if (done == away) edit([&](const Scene& s) { return removeKeys(s, keys); });
    keepChosen(document, keys);
    return done == curves;
}
