#pragma once

#include <QDir>
#include <QString>

#include "app/leaving/gate.hpp"

/// The outbox. Nothing is sent: what waits in it is written as messages into a folder of the yard, from which
/// a person or a mail program may take them.
namespace aspen::app {

/// A message as RFC 5322 has it, with a plain-text body in UTF-8. Nobody's address is known, so that "To" is
/// a group of that name without members.
/// `attached` is a file that goes along (RFC 2046); throws core::Refused when it is not there.
std::string as_message(const store::Outgoing& out, const std::string& coach, const QString& attached = {});

/// Where messages are written.
QDir outbox_folder(const Yard& yard);

/// Everybody in something that waits: its rider, and the others of the permit it was made with.
std::vector<store::RiderId> riders_in(const store::Outgoing& outgoing);
std::string others_in(const Permit& permit, store::RiderId rider);

/// What waits is bound to what it was allowed with.
void waits_with(store::Outgoing& outgoing, const Permit& permit);

/// Writes all that waits, each only with a permit of everybody in it; gives the line that is said. What may
/// not leave stays and is named.
QString write_outbox(Yard& yard);

}  // namespace aspen::app
