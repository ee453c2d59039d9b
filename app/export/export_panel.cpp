#include "app/export/export_panel.h"

#include <algorithm>
#include <QDir>
#include <QFormLayout>
#include <QHBoxLayout>
#include <QImage>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QScrollArea>

#include "app/document/document.h"
#include "app/export/export_kinds.h"
#include "app/export/export_measure.h"
#include "app/export/export_queue.h"
#include "app/export/export_scope.h"
#include "app/export/export_settings.h"
#include "app/theme/file_dialog.h"
#include "app/theme/theme.h"

using namespace gswarm;
namespace fs = std::filesystem;

namespace {

bool isEnding(const fs::path& ending) {
    return std::any_of(exporters().begin(), exporters().end(), [&](const ExporterKind* kind) { return kind->ending == ending; });
}

fs::path withoutEnding(const fs::path& path) { return isEnding(path.extension()) ? fs::path(path).replace_extension() : path; }

/// "a, b and c"
QString listed(const QStringList& things) {
    if (things.size() < 2) return things.join("");
    return things.mid(0, things.size() - 1).join(", ") + " and " + things.last();
}

QString nameOf(const fs::path& file) { return QString::fromStdString(file.filename().string()); }

}  // namespace

ExportPanel::ExportPanel(Document& document, ExportKinds& kinds, ExportQueue& queue, QWidget* parent)
    : QWidget(parent), document_(document), kinds_(kinds), queue_(queue), measure_(new ExportMeasure(this)) {
    setObjectName("exportPanel");
    build();
    connect(&kinds_, &ExportKinds::chosen, this, &ExportPanel::showKinds);
    connect(&kinds_, &ExportKinds::presetChosen, this, &ExportPanel::takePreset);
    connect(&kinds_, &ExportKinds::presetAsked, this, &ExportPanel::keep);
    connect(&kinds_, &ExportKinds::trouble, this, [this](const QString& sentence) { tell(sentence, false); });
    connect(settings_, &ExportSettings::changed, this, &ExportPanel::showRows);
    connect(scope_, &ExportScope::changed, this, &ExportPanel::saySoFar);
    connect(settings_, &ExportSettings::trouble, said_, &QLabel::setText);
    connect(scope_, &ExportScope::trouble, said_, &QLabel::setText);
    connect(&document_, &Document::fileChanged, this, [this] {
        named_ = false;
        nameAnew();
    });
    connect(&document_, &Document::sceneChanged, this, &ExportPanel::measure);
    connect(path_, &QLineEdit::textEdited, this, [this] { named_ = true; });
    connect(path_, &QLineEdit::textChanged, this, &ExportPanel::saySoFar);
    connect(start_, &QPushButton::clicked, this, &ExportPanel::start);
    connect(keep_, &QPushButton::clicked, this, [this] { keep({}); });
    connect(measure_, &ExportMeasure::told, cost_, &QLabel::setText);
    connect(&queue_, &ExportQueue::changed, this, &ExportPanel::measure);
    connect(&queue_, &ExportQueue::ended, this, [this](bool fine, const QString& sentence) {
        tell(sentence, fine);
        emit ended(fine, sentence);
    });
    showKinds();
}

// ---- building

void ExportPanel::build() {
    auto* whole = new QVBoxLayout(this);
    whole->setContentsMargins(12, 10, 0, 10);
    whole->setSpacing(8);
    title_ = new QLabel(this);
    title_->setFont(theme::text(15, QFont::DemiBold));
    title_->setWordWrap(true);
    whole->addWidget(title_);
    // What has many settings scrolls; what will be written and the button stay.
    auto* scroll = new QScrollArea(this);
    scroll->setFrameShape(QFrame::NoFrame);
    scroll->setWidgetResizable(true);
    scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    auto* inside = new QWidget(scroll);
    form_ = new QFormLayout(inside);
    form_->setContentsMargins(0, 0, 12, 0);
    form_->setSpacing(6);
    form_->setLabelAlignment(Qt::AlignLeft);
    scope_ = new ExportScope(document_, form_, inside);
    settings_ = new ExportSettings(document_, form_, inside);
    scroll->setWidget(inside);
    whole->addWidget(scroll, 1);
    buildBelow(whole);
}

void ExportPanel::buildBelow(QLayout* whole) {
    auto* below = new QVBoxLayout;
    below->setContentsMargins(0, 0, 12, 0);
    below->setSpacing(8);
    path_ = new QLineEdit(this);
    path_->setObjectName("exportPath");
    path_->setAccessibleName("File");
    auto* browse = new QPushButton("Choose…", this);
    connect(browse, &QPushButton::clicked, this, &ExportPanel::browse);
    auto* file = new QHBoxLayout;
    file->addWidget(path_, 1);
    file->addWidget(browse);
    below->addLayout(file);
    const auto label = [&](const char* name) {
        auto* made = new QLabel(this);
        made->setObjectName(name);
        made->setWordWrap(true);
        return made;
    };
    writes_ = label("exportWrites");
    cost_ = label("exportCost");
    cost_->setMinimumHeight(cost_->fontMetrics().height());  // nothing moves when it comes
    cost_->setStyleSheet("color: #a3967f;");
    said_ = label("exportSaid");
    said_->setTextInteractionFlags(Qt::TextSelectableByMouse);
    start_ = new QPushButton("Export", this);
    start_->setObjectName("exportStart");
    keep_ = new QPushButton("Keep", this);
    keep_->setObjectName("exportKeep");
    keep_->setToolTip("Puts these formats and settings on top of the list, under a name of your own, in every project");
    auto* buttons = new QHBoxLayout;
    buttons->addWidget(start_, 1);
    buttons->addWidget(keep_);
    below->addWidget(writes_);
    below->addWidget(cost_);
    below->addLayout(buttons);
    below->addWidget(said_);
    whole->addItem(below);
}

// ---- what is chosen

void ExportPanel::showKinds() {
    const auto kinds = kinds_.kinds();
    if (kinds.size() == 1) {
        title_->setText(QString::fromStdString(kinds.front()->label));
        tell(QString::fromStdString(kinds.front()->summary), true);
    } else {
        QStringList labels;
        for (const ExporterKind* kind : kinds) labels << QString::fromStdString(kind->label);
        title_->setText(theme::counted(static_cast<qint64>(kinds.size()), "format"));
        tell(listed(labels) + ", one after the other.", true);
    }
    start_->setText(kinds.size() == 1 ? QString("Export") : QString("Export %1 formats").arg(kinds.size()));
    nameAnew();
    showRows();
}

void ExportPanel::showRows() {
    const auto kinds = kinds_.kinds();
    scope_->showFor(kinds);
    settings_->showFor(kinds);
    saySoFar();
}

/// What the person called it stays, with the ending of what is chosen; else it is the project's name beside the project.
void ExportPanel::nameAnew() {
    const auto kinds = kinds_.kinds();
    const fs::path& project = document_.path();
    const fs::path folder = project.empty() ? fs::path(QDir::homePath().toStdString()) : project.parent_path();
    const fs::path stem = named_ ? withoutEnding(path_->text().toStdString()) : folder / (project.empty() ? "untitled" : project.stem());
    path_->setText(QString::fromStdString(stem.string() + (kinds.size() == 1 ? kinds.front()->ending : std::string())));
}

/// Of several formats each has its own ending; two that have the same are told apart by what they are called.
fs::path ExportPanel::fileOf(const ExporterKind& kind) const {
    const fs::path typed = path_->text().toStdString();
    const auto kinds = kinds_.kinds();
    if (kinds.size() == 1) return typed;
    const bool alone =
        std::count_if(kinds.begin(), kinds.end(), [&](const ExporterKind* other) { return other->ending == kind.ending; }) == 1;
    return withoutEnding(typed).string() + (alone ? "" : "-" + kind.id) + kind.ending;
}

std::vector<ExportJob> ExportPanel::jobs() const {
    std::vector<ExportJob> jobs;
    for (const ExporterKind* kind : kinds_.kinds()) {
        ExportJob job;
        job.settings = settings_->of(*kind);
        job.scene = document_.scene();
        job.folder = document_.folder();
        job.frame = document_.frame();
        scope_->tell(job);
        job.file = fileOf(*kind);
        job.project = document_.path().empty() ? "untitled" : QString::fromStdString(document_.path().stem().string());
        jobs.push_back(std::move(job));
    }
    return jobs;
}

// ---- what will be written

void ExportPanel::saySoFar() {
    if (!isVisible()) return;
    writes_->setText(sentence());
    measure();
}

/// Names, how many, what else.
QString ExportPanel::sentence() const {
    QStringList files;
    std::size_t besides = 0;
    bool eachBesides = false;
    for (const ExportJob& job : jobs()) {
        const ExporterKind& kind = job.kind();
        const int count = kind.moves ? job.range.count() : 1;
        if (count < 1) return "Writes nothing: the last frame is before the first.";
        if (kind.numbered)
            files << QString("%1 to %2, %3")
                         .arg(nameOf(numbered(job.file, job.range.first)), nameOf(numbered(job.file, job.range.at(count - 1))),
                              theme::counted(count, "file"));
        else
            files << nameOf(job.file) + (kind.moves ? " of " + theme::counted(count, "frame") : QString());
        besides += filesWritten(job.settings, job.scene, {0, 0}, job.file).size() - 1;
        eachBesides = eachBesides || kind.numbered;
    }
    QString says = "Writes " + listed(files) + ".";
    if (besides > 0) says += QString(" %1 more beside%2.").arg(besides).arg(eachBesides ? " each" : files.size() > 1 ? " them" : " it");
    return says;
}

/// Not while something is written: both would be slower, and the measure wrong.
void ExportPanel::measure() {
    if (!isVisible() || queue_.running() || !document_.swarm()) return measure_->stop();
    std::vector<ExportJob> asked = jobs();
    const bool none =
        std::any_of(asked.begin(), asked.end(), [](const ExportJob& job) { return job.kind().moves && job.range.count() < 1; });
    measure_->ask(none ? std::vector<ExportJob>{} : std::move(asked));
}

void ExportPanel::showEvent(QShowEvent* event) {
    QWidget::showEvent(event);
    scope_->refresh();
}

void ExportPanel::hideEvent(QHideEvent* event) {
    QWidget::hideEvent(event);
    measure_->stop();
}

// ---- what is done

void ExportPanel::browse() {
    const QString chosen = file_dialog::save(this, "Export to", path_->text());
    if (chosen.isEmpty()) return;
    named_ = true;
    path_->setText(chosen);
}

void ExportPanel::start() {
    if (!document_.swarm()) {
        tell("There is no swarm to export yet.", false);
        return;
    }
    measure_->stop();
    tell({}, true);
    const QImage picture = picture_ ? picture_() : QImage();
    for (ExportJob& job : jobs()) {
        job.picture = picture;
        queue_.add(std::move(job));
    }
}

void ExportPanel::takePreset(const ExportPreset& preset) {
    for (const Part& format : preset.formats) settings_->take(format);
    scope_->setEvery(preset.every);
    title_->setText(preset.name);
    saySoFar();
}

/// With the formats and settings as they are now; a new one is called after them.
void ExportPanel::keep(ExportPreset preset) {
    preset.formats.clear();
    for (const ExporterKind* kind : kinds_.kinds()) preset.formats.push_back(settings_->of(*kind));
    preset.every = scope_->range().every;
    if (preset.name.isEmpty())
        preset.name = preset.formats.size() == 1 ? QString::fromStdString(preset.formats.front().kind->label) : title_->text();
    kinds_.keep(std::move(preset));
}

void ExportPanel::tell(const QString& sentence, bool fine) {
    said_->setStyleSheet(fine ? "color: #a3967f;" : "color: #f08a72;");
    said_->setText(sentence);
}
