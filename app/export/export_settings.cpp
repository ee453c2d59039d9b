#include "app/export/export_settings.h"

#include <QComboBox>
#include <QFormLayout>
#include <QLabel>
#include <QLineEdit>

#include "app/document/document.h"
#include "app/fields/number_field.h"
#include "app/fields/switch.h"
#include "core/resolve/resolve.h"

using namespace gswarm;

namespace {

QString objectNameOf(const std::string& id) {
    return "export" + QString::fromStdString(id).left(1).toUpper() + QString::fromStdString(id).mid(1);
}

}  // namespace

NumberField* exportNumber(Document& document, const Parameter& p, QWidget* parent) {
    auto* field = new NumberField(p, momentAt(document.scene(), 0).rate, parent);
    field->setObjectName(objectNameOf(p.id));
    QObject::connect(field, &NumberField::edited, field, [field](double value) { field->show(value, NumberField::Mark::none); });
    return field;
}

ExportSettings::ExportSettings(Document& document, QFormLayout* form, QWidget* parent)
    : QObject(parent), document_(document), form_(form), parent_(parent) {
    for (const ExporterKind* kind : exporters())
        for (const Parameter& p : kind->parameters) {
            if (fields_.contains(p.id)) continue;
            QWidget* field = fields_[p.id] = fieldFor(p);
            form_->addRow(QString::fromStdString(p.label), field);
            form_->labelForField(field)->setToolTip(QString::fromStdString(p.summary));
        }
}

QWidget* ExportSettings::fieldFor(const Parameter& p) {
    const QString name = objectNameOf(p.id), label = QString::fromStdString(p.label);
    if (p.type == ParameterType::toggle) {
        auto* toggle = new Switch(parent_);
        toggle->setObjectName(name);
        toggle->setCheckable(true);
        toggle->setChecked(std::get<bool>(p.standard));
        toggle->setAccessibleName(label);
        connect(toggle, &Switch::toggled, this, &ExportSettings::changed);
        return toggle;
    }
    if (p.type == ParameterType::choice) {
        auto* choices = new QComboBox(parent_);
        choices->setObjectName(name);
        choices->setAccessibleName(label);
        choices->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Fixed);
        for (const Choice& choice : p.choices) choices->addItem(QString::fromStdString(choice.label), QString::fromStdString(choice.id));
        choices->setCurrentIndex(choices->findData(QString::fromStdString(std::get<std::string>(p.standard))));
        connect(choices, &QComboBox::currentIndexChanged, this, &ExportSettings::changed);
        return choices;
    }
    if (p.type == ParameterType::text) {
        auto* line = new QLineEdit(QString::fromStdString(std::get<std::string>(p.standard)), parent_);
        line->setObjectName(name);
        line->setAccessibleName(label);
        connect(line, &QLineEdit::textChanged, this, &ExportSettings::changed);
        return line;
    }
    NumberField* field = exportNumber(document_, p, parent_);
    connect(field, &NumberField::edited, this, &ExportSettings::changed);
    connect(field, &NumberField::trouble, this, &ExportSettings::trouble);
    field->show(std::get<Numbers>(p.standard).front().value, NumberField::Mark::none);
    followProject(p, field);
    return field;
}

/// The size of pictures is the project's, until a preset has another.
void ExportSettings::followProject(const Parameter& p, NumberField* field) {
    for (const auto& [setting, of] : {std::pair{"width", "pictureWidth"}, {"height", "pictureHeight"}}) {
        if (p.id != setting) continue;
        const auto address = [this, of = of] { return addressOf(document_.scene(), document_.scene().project().id, of); };
        const auto projects = [this, address] { return std::get<Numbers>(valueOf(document_.scene(), address())).front().value; };
        connect(field, &NumberField::edited, this, [this, address](double value) { document_.setNumber(address(), value); });
        connect(field, &NumberField::finished, &document_, &Document::seal);
        connect(&document_, &Document::sceneChanged, field, [field, projects, before = projects()]() mutable {
            if (before != projects()) field->show(projects(), NumberField::Mark::none);
            before = projects();
        });
        field->show(projects(), NumberField::Mark::none);
    }
}

Value ExportSettings::typed(const Parameter& p) const {
    const QWidget* row = fields_.at(p.id);
    if (const auto* toggle = qobject_cast<const Switch*>(row)) return toggle->isChecked();
    if (const auto* choices = qobject_cast<const QComboBox*>(row)) return choices->currentData().toString().toStdString();
    if (const auto* line = qobject_cast<const QLineEdit*>(row)) return line->text().toStdString();
    return fixedNumbers({qobject_cast<const NumberField*>(row)->value()});
}

Part ExportSettings::of(const ExporterKind& kind) const {
    Part settings = standardPart(kind);
    for (std::size_t i = 0; i < settings.values.size(); ++i) settings.values[i] = typed(kind.parameters[i]);
    return settings;
}

void ExportSettings::take(const Part& settings) {
    for (std::size_t i = 0; i < settings.values.size(); ++i) {
        QWidget* row = fields_.at(settings.kind->parameters[i].id);
        const Value& value = settings.values[i];
        if (auto* toggle = qobject_cast<Switch*>(row))
            toggle->setChecked(std::get<bool>(value));
        else if (auto* choices = qobject_cast<QComboBox*>(row))
            choices->setCurrentIndex(std::max(0, choices->findData(QString::fromStdString(std::get<std::string>(value)))));
        else if (auto* line = qobject_cast<QLineEdit*>(row))
            line->setText(QString::fromStdString(std::get<std::string>(value)));
        else
            qobject_cast<NumberField*>(row)->show(std::get<Numbers>(value).front().value, NumberField::Mark::none);
    }
    emit changed();
}

void ExportSettings::showFor(const std::vector<const ExporterKind*>& kinds) {
    for (const auto& [id, field] : fields_) {
        const bool wanted = std::any_of(kinds.begin(), kinds.end(), [&, &id = id](const ExporterKind* kind) {
            const int at = kind->indexOf(id);
            return at >= 0 && applies(kind->parameters[static_cast<std::size_t>(at)], of(*kind));
        });
        form_->setRowVisible(field, wanted);
    }
}
