# frozen_string_literal: true

# Mails as other people's programs write them, and addresses of the house to which they write.
module LetterWords
  # @return [String] bytes of a message
  def a_letter(text = "Yes, please.", from: "Aldo Renn <aldo@sea.example>", to: "snags@yard.example", **heads)
    heads = {subject: "The pump leaks", message_id: "<#{SecureRandom.hex(8)}@sea.example>", **heads}
    lines = heads.map { |name, value|
      "#{name.to_s.split("_").map(&:capitalize).join("-").sub("-Id", "-ID")}: #{value}"
    }
    ["From: #{from}", "To: #{to}", *lines, "", text, ""].join("\r\n")
  end

  # @return [String] bytes of a notice that a mail could not be brought (RFC 3464)
  def a_notice(message_id:, address:, status: "5.1.1", action: "failed")
    <<~MAIL.gsub("\n", "\r\n")
      From: MAILER-DAEMON@post.example
      To: yard@yard.example
      Subject: Undelivered
      Message-ID: <#{SecureRandom.hex(8)}@post.example>
      MIME-Version: 1.0
      Content-Type: multipart/report; report-type=delivery-status; boundary=b

      --b
      Content-Type: text/plain

      It could not be brought.

      --b
      Content-Type: message/delivery-status

      Reporting-MTA: dns; post.example

      Final-Recipient: rfc822; #{address}
      Action: #{action}
      Status: #{status}
      Diagnostic-Code: smtp; 550 There is
       no such mailbox

      --b
      Content-Type: text/rfc822-headers

      Message-ID: <#{message_id}>
      To: #{address}

      --b--
    MAIL
  end

  # @return [Hash] row of an address that is open
  def a_mail_door(kind = "ticket", address = "snags@yard.example", name: "Snags", **more)
    key = root.mail_doors.make(name, kind, address, cause: cause("maren"))
    root.mail_doors.write(key, {**more.transform_keys(&:to_s), "open" => true}, cause: cause("maren"))
    root.mail_doors.find!(key)
  end

  # @return [Hash] row of a mail that has left, about a record
  def a_sent_mail(record, to: "aldo@sea.example", at: Database::NOW)
    content = {"to" => to, "subject" => "Shall we mend it?", "text" => "Shall we?"}
    id = root.outbox.add("mail", "mail server", content, cause: cause("maren", at:), record_id: record, kind: "ticket",
      words: "Mail to Aldo")
    root.db[:deliveries].where(id:).update(state: "sent", settled_at: at)
    root.outbox.find!(id)
  end

  def take(bytes, to: nil, at: Database::NOW) =
    Yenvo::Postbox.new(root, clock: Struct.new(:now).new(at)).take(bytes, to:)
end
