#include "app/leaving/outbox.hpp"

#include <QDateTime>
#include <QRegularExpression>
#include <QSaveFile>

#include "app/leaving/gate.hpp"
#include "app/yard/changes.hpp"

namespace aspen::app {
namespace {

/// A header's words: as they are in ASCII, else as RFC 2047 has them, a few letters to a word.
QByteArray header(const std::string& words) {
    const QString text = QString::fromStdString(words).simplified();
    bool plain = true;
    for (const QChar c : text) plain = plain && c.unicode() >= 32 && c.unicode() < 127;
    if (plain) return text.toLatin1();
    QByteArray out;
    constexpr qsizetype kBytes = 45;  // an encoded word holds 75 characters at most
    for (qsizetype from = 0; from < text.size();) {
        qsizetype letters = 1;  // whole letters only: none is cut in two
        while (from + letters < text.size() && text.mid(from, letters + 1).toUtf8().size() <= kBytes)
            ++letters;
        if (text[from + letters - 1].isHighSurrogate()) ++letters;
        if (from > 0) out += "\r\n ";
        out += "=?UTF-8?B?" + text.mid(from, letters).toUtf8().toBase64() + "?=";
        from += letters;
    }
    return out;
}

/// A display name: quoted where it has signs that mean something.
QByteArray name(const std::string& words) {
    const QByteArray out = header(words);
    static const QRegularExpression kSafe("^[A-Za-z0-9 '\\-]*$");
    if (out.startsWith("=?") || kSafe.match(QString::fromLatin1(out)).hasMatch()) return out;
    QByteArray quoted = out;
    return "\"" + quoted.replace('\\', "\\\\").replace('"', "\\\"") + "\"";
}

QString file_name(const store::Outgoing& o) {
    QString rider = QString::fromStdString(o.to).toLower();
    rider.replace(QRegularExpression("[^a-z0-9]+"), "-");
    return QString("%1-%2-%3-%4.eml")
        .arg(QString::fromStdString(o.made_at.substr(0, 10)), rider, QString::fromStdString(o.kind))
        .arg(o.id.value);
}

}  // namespace

std::string as_message(const store::Outgoing& o, const std::string& coach) {
    const QDateTime made = QDateTime::fromString(QString::fromStdString(o.made_at), Qt::ISODate);
    QByteArray out;
    out += "Date: " + made.toUTC().toString(Qt::RFC2822Date).toLatin1() + "\r\n";
    out += "From: " + name(coach) + " <coach@yard.invalid>\r\n";
    out += "To: " + name(o.to.empty() ? "rider" : o.to) + ":;\r\n";
    out += "Subject: " + header(o.subject) + "\r\n";
    out += "Message-ID: <aspen-" + QByteArray::number(static_cast<qlonglong>(o.id.value)) + "-" +
           QByteArray::fromStdString(o.made_at.substr(0, 10)) + "@yard.invalid>\r\n";
    out += QString("MIME-Version: 1.0\r\nContent-Type: text/plain; charset=utf-8\r\n").toLatin1();
    out += QString("Content-Transfer-Encoding: base64\r\n\r\n").toLatin1();
    const QByteArray body = QByteArray::fromStdString(o.words).replace("\n", "\r\n").toBase64();
    for (qsizetype i = 0; i < body.size(); i += 76) out += body.mid(i, 76) + "\r\n";
    return out.toStdString();
}

QDir outbox_folder(const Yard& yard) { return QDir(yard.folder().filePath("outbox")); }

QString write_outbox(Yard& yard) {
    const QDir folder = outbox_folder(yard);
    if (!folder.mkpath(".")) return QObject::tr("%1: cannot be made; make room there.").arg(folder.path());
    int written = 0;
    QStringList held;
    for (store::Outgoing o : yard.records().outbox()) {
        if (o.state != "waiting") continue;
        const auto permit = ask_for_rider(yard, o.rider);
        if (const auto* line = std::get_if<QString>(&permit)) {
            held << *line;
            continue;
        }
        o.file = file_name(o).toStdString();
        const std::string bytes = as_message(o, yard.coach().toStdString());
        QSaveFile to(folder.filePath(QString::fromStdString(o.file)));
        if (!to.open(QIODevice::WriteOnly) || to.write(bytes.data(), static_cast<qint64>(bytes.size())) < 0 ||
            !to.commit())
            return QObject::tr("%1: cannot be written; %2 messages are there.")
                .arg(to.fileName())
                .arg(written);
        o.state = "written";
        mark_written(yard, o);
        ++written;
    }
    held.removeDuplicates();
    if (written == 0 && held.isEmpty()) return QObject::tr("Nothing waits in the outbox.");
    QString line = written == 1 ? QObject::tr("One message is a file in %1.").arg(folder.path())
                                : QObject::tr("%1 messages are files in %2.").arg(written).arg(folder.path());
    if (written == 0) line.clear();
    return (line + " " + held.join(" ")).trimmed();
}

}  // namespace aspen::app
