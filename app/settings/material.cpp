// The material of a stock entry or of a shape that is seen itself, to be chosen and changed on the spot.
#include <algorithm>
#include <QHBoxLayout>
#include <QPushButton>

#include "app/document/own_starts.h"
#include "app/fields/drop_target.h"
#include "app/scene/material_gallery.h"
#include "app/settings/questions.h"
#include "app/theme/theme.h"
#include "core/edit/material_edits.h"
#include "core/material/material_kind.h"

using namespace gswarm;

namespace {

class MaterialInUse : public Question {
  public:
    MaterialInUse(SettingsDesk& desk, const Subject& user) : Question(desk, user, "Material") {
        new DropTarget(desk.document, this, {ObjectType::material}, [this](ObjectId material) { use(material); });
    }

  private:
    ObjectId material() const { return scene().find(subject()) ? materialOf(scene(), subject()) : ObjectId{}; }
    QString name() const {
        return material() ? said(scene().at(material()).name) : subject().type() == ObjectType::stock ? "Plain clay" : "Plain stone";
    }
    QString summary() const override { return name(); }
    bool isMixed() const { return material() && scene().at(material()).part("material").kind == &mixedMaterial; }

    void use(ObjectId material) {
        document().edit([&](const Scene& s) { return useMaterial(s, subject(), material); });
        document().seal();
    }

    void fill() override {
        const ObjectId shown = uses([this] { return material(); });
        QHBoxLayout* line = addLine();
        auto* choose = new QPushButton(content());
        choose->setObjectName("pickMaterial");
        choose->setIcon(theme::icon("material"));
        choose->setToolTip("Choose a material from pictures: a new one, or one of this project");
        tells([this, choose] { choose->setText(name()); });
        connect(choose, &QPushButton::clicked, this, [this, choose] { pick(choose); });
        line->addWidget(choose, 1);
        if (!shown) return;
        if (!uses([this] { return isMixed(); })) {
            auto* mix = new QPushButton("Mix", content());
            mix->setObjectName("mixMaterial");
            mix->setToolTip("Mixes it with a second one: by a value, the number's share or how far it faces you");
            connect(mix, &QPushButton::clicked, this, [&document = document(), shown] {
                document.edit([&](const Scene& s) { return mixMaterial(s, shown); });
                document.seal();
            });
            line->addWidget(mix);
            addRows(shown, "material");
            return;
        }
        addRows(shown, "material");
        for (const char* which : {"first", "second"}) {
            const ObjectId part = uses([this, which] {
                const ObjectId found = isMixed() ? referenceOf(scene().at(material()).part("material"), which) : ObjectId{};
                return scene().find(found) ? found : ObjectId{};
            });
            if (!part) continue;
            auto* go = new QPushButton(content());
            go->setObjectName(QString("open-") + which);
            go->setIcon(theme::icon("material"));
            go->setToolTip("Opens its own settings");
            tells([this, go, part] {
                if (const Object* object = scene().find(part)) go->setText("Change " + said(object->name));
            });
            connect(go, &QPushButton::clicked, this, [&document = document(), part] { document.choose(part); });
            body()->addWidget(go);
        }
        addRows(shown, "shaped", {"normalise"});
    }

    void pick(QWidget* beside) {
        if (!gallery_) {
            gallery_ = new MaterialGallery(this);
            connect(gallery_, &MaterialGallery::startTaken, this, [this](const MaterialStart* start) {
                document().edit([&](const Scene& s) { return addMaterialFor(s, subject(), *start); });
                document().seal();
            });
            connect(gallery_, &MaterialGallery::materialTaken, this, &MaterialInUse::use);
            connect(gallery_, &MaterialGallery::ownTaken, this,
                    [this](const std::filesystem::path& path) { useMaterialFile(document(), path, subject()); });
        }
        gallery_->open(scene(), material(), document().folder(), beside);
    }

    MaterialGallery* gallery_ = nullptr;
};

/// A material by itself: its table, and what shapes the mix of a mixed one.
class MaterialItself : public Question {
  public:
    MaterialItself(SettingsDesk& desk, const Subject& material) : Question(desk, material, "Material") {}

  private:
    const Kind* kind() const { return object().part("material").kind; }

    void fill() override {
        const Kind* shown = uses([this] { return kind(); });
        // What it was stays one of the two that are mixed then.
        addKindChoice(subject(), "material", "Kind", [id = subject(), shown](const Scene& s, const Kind& kind) {
            return &kind == &mixedMaterial && shown != &kind ? mixMaterial(s, id) : setKind(s, id, "material", kind);
        });
        addRows(subject(), "material");
        if (shown == &mixedMaterial) addRows(subject(), "shaped", {"normalise"});
    }
    QString summary() const override { return said(kind()->summary); }
};

}  // namespace

Question* materialInUse(SettingsDesk& desk, const Subject& user) { return new MaterialInUse(desk, user); }
Question* materialItself(SettingsDesk& desk, const Subject& material) { return new MaterialItself(desk, material); }
