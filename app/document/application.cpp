#include "app/document/application.h"

#include <QDateTime>
#include <QDir>
#include <QEvent>
#include <QFile>
#include <QMetaEnum>
#include <QTextStream>
#include <typeinfo>

#include "app/document/autosave.h"

namespace {

constexpr int mostLogged = 1000;  // of one run, so that a fault that comes with every picture fills no disk

QString nameOf(QEvent::Type type) {
    const char* name = QMetaEnum::fromType<QEvent::Type>().valueToKey(type);
    return name ? name : QString::number(type);
}

}  // namespace

Application::Application(int& argc, char** argv) : QApplication(argc, argv) {}

Application* Application::instance() { return qobject_cast<Application*>(QCoreApplication::instance()); }

bool Application::notify(QObject* receiver, QEvent* event) {
    // What receives it may be gone once it has thrown; only its class is sure to stay.
    const QMetaObject* kind = receiver->metaObject();
    const QEvent::Type type = event->type();
    try {
        return QApplication::notify(receiver, event);
    } catch (const std::exception& fault) {
        caught(nameOf(type) + " to a " + kind->className(), fault);
        return true;
    }
}

void Application::caught(const QString& where, const std::exception& fault) {
    const QString folder = QString::fromStdString(Autosave::folder().string()), path = folder + "/faults.log";
    if (++faults_ <= mostLogged && QDir().mkpath(folder)) {
        QFile log(path);
        if (log.open(QIODevice::Append | QIODevice::Text))
            QTextStream(&log) << QDateTime::currentDateTime().toString(Qt::ISODate) << "  " << where << ": " << typeid(fault).name() << ", "
                              << fault.what() << '\n';
    }
    const QString sentence =
        "Something went wrong that nobody foresaw; what was begun was given up and the project is as it was. It is written in " + path +
        ".";
    QMetaObject::invokeMethod(
        this, [this, sentence] { emit faultTold(sentence); }, Qt::QueuedConnection);
}
