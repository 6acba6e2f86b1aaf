# frozen_string_literal: true

require "openssl"

module Yenvo
  module Store
    # Mails that come in, each once, however often and at the same time it is brought: answers become an e-mail on the
    # record that was written about, others what their address makes. What cannot be taken now waits with the mail
    # server, which brings it again.
    class Letters < Base
      keeps :letters

      DAYS = 365
      PAGE = 50
      PURGED_AT_ONCE = 1_000
      # Mails of one sender, and to one address, within an hour; more wait, so that two programs that answer each other
      # come to rest.
      MOST_OF_SENDER = 30
      MOST_OF_DOOR = 600
      HOUR = 3_600
      # What a mail server is told, as sysexits.h numbers it: taken, nobody there, or to be brought again.
      CODES = {"unknown" => 67, "waiting" => 75}.freeze
      # What nobody took for one address may be for another.
      OPEN = CODES.keys.freeze

      # @param letter [Core::Letter]
      # @param to [String, nil] for whom the mail server brings it; nil for all whom it names
      # @return [Hash] row
      def take(letter, to:, cause:)
        root.transaction do
          row = begin_once(letter, to, cause)
          next row unless OPEN.include?(row[:state])

          table.where(id: row[:id]).update(reason: nil, **outcome(letter, recipients(letter, to), cause))
          find!(row[:id])
        end
      end

      # @param row [Hash]
      # @return [Integer] what a mail server is told
      def self.code(row) = CODES.fetch(row[:state], 0)

      # @param before [Integer, nil] id to go on from
      # @return [Array<Hash>] rows, the newest first
      def page(before: nil, limit: PAGE) = older(table.reverse(:id).limit(limit), before)

      # @return [Array<Hash>] what came back for a mail, or answers it
      def of_delivery(id) = table.where(delivery_id: id).order(:id).limit(PAGE).all

      # @return [Integer] how many were forgotten
      def purge(now:) = table.where { at < now - (DAYS * 86_400) }.order(:at).limit(PURGED_AT_ONCE).delete

      private

      def find!(id) = table.where(id:).first
      def recipients(letter, to) = to ? [to.strip.downcase[0, 190]] : letter.to

      def begin_once(letter, to, cause)
        digest = digest(letter.message_id || [letter.sender, letter.subject, letter.text].join("\0"))
        columns = {
          digest:, sender: letter.sender, name: letter.name, to: recipients(letter, to)[0],
          subject: letter.subject, state: "waiting", at: cause.at
        }
        id = db.transaction(savepoint: true) { table.insert(columns) }
        find!(id)
      rescue Sequel::UniqueConstraintViolation
        table.where(digest:).for_update.first
      end

      def digest(text) = OpenSSL::Digest::SHA256.hexdigest(text)

      # What is refused leaves nothing but its row.
      # @return [Hash] columns
      def outcome(letter, to, cause)
        db.transaction(savepoint: true) { sorted(letter, to, cause) }
      rescue Refused => error
        waiting(error)
      end

      def waiting(error) = {state: "waiting", reason: error.message[0, 1_000]}

      def sorted(letter, to, cause)
        return {state: "loop", reason: CIRCLE} if letter.sort == "loop" || ours?(letter.message_id)
        return back(letter, to, cause) if letter.sort == "bounce"

        delivery = answered(letter, to)
        return {state: "automatic", **of(delivery)} if letter.sort == "automatic"

        not_too_many(letter)
        root.returned.forget(letter.sender)
        answer(letter, delivery, cause) || follow(letter, cause) || made(letter, to, cause)
      end
      CIRCLE = "It is a mail of the house itself, or went round through too many servers."
      private_constant :CIRCLE

      def of(delivery) = {delivery_id: delivery&.fetch(:id), record_id: delivery&.fetch(:record_id)}
      def ours?(message_id) = message_id && deliveries.where(message_id:).any?
      def deliveries = db[:deliveries]

      def not_too_many(letter)
        return if root.counts.add("letters of #{letter.sender}", seconds: HOUR) <= MOST_OF_SENDER

        refuse("sender", too_many(letter.sender))
      end

      def too_many(sender) = "#{sender} sends more than #{MOST_OF_SENDER} mails within an hour; the rest wait."

      # @return [Hash, nil] row of the mail of the house that it answers
      def answered(letter, to)
        id = token(letter, to)
        (id && deliveries.where(id:).first) || named(letter.references)
      end

      def token(letter, to) = ReplyAddress.new(root.secret).read(to | letter.to)

      def named(message_ids)
        found = deliveries.where(message_id: message_ids).as_hash(:message_id)
        message_ids.filter_map { |id| found[id] }.first
      end

      def back(letter, to, cause)
        token = token(letter, to)
        found = letter.returns.filter_map { |one| brought_back(one, token, cause) }
        return {state: "back", reason: "It names no mail of the house."} if found.empty?

        {state: "back", reason: letter.returns[0].words[0, 1_000], **of(found[0])}
      end

      def brought_back(one, token, cause)
        delivery = deliveries.where(which(one, token)).first
        delivery&.tap { root.returned.mark(one, delivery, cause:) }
      end

      def which(one, token) = one.message_id ? {message_id: one.message_id} : {id: token}

      def answer(letter, delivery, cause)
        record = delivery && delivery[:record_id]
        answered_on(record, delivery, letter, cause) if record && there?(record)
      end

      def answered_on(record, delivery, letter, cause)
        log(record, letter, cause, answers: delivery[:id])
        {state: "answer", **of(delivery)}
      end

      # What was taken away may come back; the mail is brought again until it does.
      def there?(record)
        return true if db[:records].where(id: record).any?

        gone = root.trash.find(record) or return false
        refuse("record", away(gone))
      end

      def away(gone) = "It is about “#{gone[:title]}”, which was taken away. It comes in when that is back."

      # Whoever writes once more about what their own mail made.
      def follow(letter, cause)
        digests = letter.references.map { |id| digest(id) }
        row = table.where(digest: digests, sender: letter.sender).exclude(record_id: nil).reverse(:id).first
        return unless row && there?(row[:record_id])

        log(row[:record_id], letter, cause)
        {state: "answer", **row.slice(:record_id, :delivery_id)}
      end

      def made(letter, to, cause)
        row = root.mail_doors.at(to) or return {state: "unknown", reason: "Nobody takes mail at #{to.join(", ")}."}
        if root.counts.add("letters to #{row[:key]}", seconds: HOUR) > MOST_OF_DOOR
          refuse("door", "More than #{MOST_OF_DOOR} mails within an hour came to #{row[:address]}; the rest wait.")
        end

        record = NewByLetter.new(root, row, cause).make(letter)
        log(record, letter, cause)
        {state: "made", record_id: record, door: row[:key]}
      end

      def log(record, letter, cause, answers: nil)
        kept, left_out = files(record, letter, cause)
        said = {
          "sender" => letter.sender, "name" => letter.name, "subject" => letter.subject, "folded" => letter.folded,
          "files" => kept, "left_out" => left_out, "answers" => answers
        }
        text = letter.text.strip.empty? ? "(It has no text.)" : letter.text
        root.interactions.log(record, "email", text, cause:, letter: said.compact.reject { |_, value| value == [] })
      end

      # A file that is not taken does not keep out the mail; it is said that it came.
      # @return [Array(Array<String>, Array<String>)] names of those that were kept, and of those that were not
      def files(record, letter, cause)
        kept, left_out = letter.files.partition do |name, bytes|
          root.attachments.add({record_id: record}, name, bytes, cause:)
        rescue Refused
          false
        end
        [kept, left_out].map { |some| some.map { |name, _| Core::Show.line(name)[0, 200] } }
      end
    end
  end
end
