#include "app/leaving/outbox.hpp"

#include <QDateTime>
#include <QFileInfo>
#include <QRegularExpression>

#include "app/files/file_name.hpp"
#include "app/files/private_folder.hpp"
#include "app/files/whole_file.hpp"
#include "app/yard/changes.hpp"
#include "core/reading/refused.hpp"

namespace aspen::app {
namespace {

/// A header's words: as they are in ASCII, else as RFC 2047 has them, a few letters to a word.
QByteArray mail_words(const std::string& words) {
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
    const QByteArray out = mail_words(words);
    static const QRegularExpression kSafe("^[A-Za-z0-9 '\\-]*$");
    if (out.startsWith("=?") || kSafe.match(QString::fromLatin1(out)).hasMatch()) return out;
    QByteArray quoted = out;
    return "\"" + quoted.replace('\\', "\\\\").replace('"', "\\\"") + "\"";
}

constexpr qint64 kMostInMail = 25 << 20;  // what mail programs usually take (common practice)

QString file_name(const store::Outgoing& o) {
    return QString("%1-%2-%3-%4.eml")
        .arg(QString::fromStdString(o.made_at.substr(0, 10)), as_file_name(QString::fromStdString(o.to)),
             QString::fromStdString(o.kind))
        .arg(o.id.value);
}

}  // namespace

namespace {

QByteArray in_lines(const QByteArray& base64) {
    QByteArray out;
    for (qsizetype i = 0; i < base64.size(); i += 76) out += base64.mid(i, 76) + "\r\n";
    return out;
}

QByteArray media_type(const QString& file) {
    const QString s = QFileInfo(file).suffix().toLower();
    return s == "pdf"    ? "application/pdf"
           : s == "html" ? "text/html"
           : s == "mp4"  ? "video/mp4"
           : s == "zip"  ? "application/zip"
                         : "application/octet-stream";
}

}  // namespace

std::string as_message(const store::Outgoing& o, const std::string& coach, const QString& attached) {
    const QDateTime made = QDateTime::fromString(QString::fromStdString(o.made_at), Qt::ISODate);
    QByteArray out;
    out += "Date: " + made.toUTC().toString(Qt::RFC2822Date).toLatin1() + "\r\n";
    out += "From: " + name(coach) + " <coach@yard.invalid>\r\n";
    out += "To: " + name(o.to.empty() ? "rider" : o.to) + ":;\r\n";
    out += "Subject: " + mail_words(o.subject) + "\r\n";
    out += "Message-ID: <aspen-" + QByteArray::number(static_cast<qlonglong>(o.id.value)) + "-" +
           QByteArray::fromStdString(o.made_at.substr(0, 10)) + "@yard.invalid>\r\n";
    out += "MIME-Version: 1.0\r\n";
    const QByteArray text =
        QString("Content-Type: text/plain; charset=utf-8\r\nContent-Transfer-Encoding: base64\r\n\r\n")
            .toLatin1() +
        in_lines(QByteArray::fromStdString(o.words).replace("\n", "\r\n").toBase64());
    if (attached.isEmpty()) return (out + text).toStdString();
    QFile file(attached);
    if (!file.open(QIODevice::ReadOnly))
        throw core::Refused((attached + ": is not there any more; make it anew").toStdString());
    // RFC 2046: parts between lines that occur in none of them; base64 has no "=_".
    const QByteArray edge = "=_aspen_" + QByteArray::number(static_cast<qlonglong>(o.id.value));
    out += QString("Content-Type: multipart/mixed; boundary=\"").toLatin1() + edge + "\"\r\n\r\n--" + edge +
           "\r\n" + text;
    out += "--" + edge + "\r\nContent-Type: " + media_type(attached) +
           QString("\r\nContent-Transfer-Encoding: base64\r\nContent-Disposition: attachment; filename=\"")
               .toLatin1() +
           QFileInfo(attached).fileName().toLatin1() + "\"\r\n\r\n" + in_lines(file.readAll().toBase64()) +
           "--" + edge + "--\r\n";
    return out.toStdString();
}

std::vector<store::RiderId> riders_in(const store::Outgoing& o) {
    std::vector<store::RiderId> out{o.rider};
    for (const QString& id : QString::fromStdString(o.others).split(' ', Qt::SkipEmptyParts))
        out.push_back({id.toLongLong()});
    return out;
}

std::string others_in(const Permit& permit, store::RiderId rider) {
    std::string out;
    for (const store::RiderId id : permit.riders()) {
        if (id != rider) out += " " + std::to_string(id.value) + " ";
    }
    return out;
}

QDir outbox_folder(const Yard& yard) { return QDir(yard.folder().filePath("outbox")); }

namespace {

/// With what it may leave: what was asked for when it was made, asked for again. Where anything that answer
/// rested on has changed since, the file is another's than the one that might leave now, and is held.
PermitOrLine ask_again(Yard& yard, const store::Outgoing& o) {
    if (o.going.empty()) {
        if (!o.attached.empty())
            return tl::unexpected(
                QObject::tr("%1: it was put into the outbox by an earlier version; take it out "
                            "and put it there anew.")
                    .arg(QString::fromStdString(o.subject)));
        return ask_for_riders(yard, riders_in(o), Use::page);
    }
    PermitOrLine asked = ask(yard, going_from(o.going));
    if (asked && asked->fingerprint() != o.fingerprint)
        return tl::unexpected(
            QObject::tr("%1, for %2: who is in it, or how their faces are shown, has changed since it was "
                        "made; take it out and put it there anew.")
                .arg(QString::fromStdString(o.subject), QString::fromStdString(o.to)));
    return asked;
}

/// One message as a file; what is too large for mail lies beside it. "" when it is there.
QString write_one(Yard& yard, const Permit& permit, const store::Outgoing& o, const QDir& folder) {
    const char* what = o.kind == "ask" ? "message" : o.kind == "clip" ? "review" : o.kind.c_str();
    const Left left{what, o.subject, folder.filePath(QString::fromStdString(o.file)),
                    o.kind == "clip" || o.kind == "bundle" || o.kind == "page"};
    return leave(yard, permit, left, [&](const QString& to) {
        QString attached =
            o.attached.empty() ? QString() : yard.folder().filePath(QString::fromStdString(o.attached));
        if (QFileInfo(attached).size() > kMostInMail) {
            const QString beside = QFileInfo(to).dir().filePath(QFileInfo(attached).fileName());
            if (!QFile::copy(attached, beside))
                return QObject::tr("%1: cannot be written; make room there.").arg(beside);
            attached.clear();
        }
        return write_whole(to,
                           QByteArray::fromStdString(as_message(o, coach_of(yard).toStdString(), attached)));
    });
}

}  // namespace

void waits_with(store::Outgoing& outgoing, const Permit& permit) {
    outgoing.others = others_in(permit, outgoing.rider);
    outgoing.going = as_text(permit.going());
    outgoing.fingerprint = permit.fingerprint();
}

QString write_outbox(Yard& yard) {
    const QDir folder = outbox_folder(yard);
    if (!make_private_folder(folder.path()))
        return QObject::tr("%1: cannot be made; make room there.").arg(folder.path());
    int written = 0;
    QStringList held;
    for (store::Outgoing o : yard.records().following.outbox()) {
        if (o.state != "waiting") continue;
        const auto permit = ask_again(yard, o);
        if (!permit) {
            held << permit.error();
            continue;
        }
        o.file = file_name(o).toStdString();
        const QString line = write_one(yard, *permit, o, folder);
        if (!line.isEmpty()) return QObject::tr("%1 %2 messages are there.").arg(line).arg(written);
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
