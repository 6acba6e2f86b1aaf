# frozen_string_literal: true

require "securerandom"

module Yenvo
  module Store
    # Messages of the outbox as they are written down: column by column, since rules write many at once.
    module MessageColumns
      module_function

      # @param wanted [Array<Outbox::New>]
      # @return [Hash{Symbol => Array}] of deliveries
      def of(wanted)
        contents = wanted.map { |new| lined(new.content) }
        {**going(wanted), **said(contents), **caused(wanted.map(&:cause)), **placed(wanted)}.compact
      end

      def going(wanted) = {way: wanted.map(&:way), destination: wanted.map(&:destination)}

      def said(contents) =
        {
          to: contents.map { |content| content["to"][0, 1_000] },
          subject: contents.map { |content| content["subject"][0, 300] },
          content: contents.map { |content| JSON.generate(content) }
        }

      def caused(causes)
        times = causes.map(&:at)
        {
          message_id: names(times), made_at: times, by: causes.map(&:who), rule_id: causes.map(&:rule),
          run_id: causes.map(&:run), depth: causes.map(&:depth)
        }
      end

      def placed(wanted)
        places = wanted.map { |new| new.place.to_a }
        {
          branch: places.map(&:first), action: places.map(&:last), record_id: wanted.map(&:record_id),
          due_at: wanted.map(&:due), words: wanted.map { |new| told_beside(new) }, secret: secrets(wanted)
        }
      end

      # Each begins with its moment in milliseconds, so that the index of a million of them is written to at its end;
      # nobody can guess the rest.
      # @param times [Array<Time>]
      # @return [Array<String>] new message ids, as RFC 5322 has them
      def names(times)
        chance = SecureRandom.hex(10 * times.size)
        times.each_with_index.map { |at, i| "#{milliseconds(at).to_s(16)}#{chance[20 * i, 20]}@yenvo" }
      end

      def milliseconds(at) = (at.to_i * 1_000) + (at.usec / 1_000)

      # What the history says of it beside what the rule met.
      def told_beside(new) = (new.words[0, 500] if new.words && new.of_rule?)

      # Hardly any is one, and where nothing is said of it none is.
      def secrets(wanted) = (wanted.map(&:secret) if wanted.any?(&:secret))

      # To and subject stand in one line each.
      def lined(content)
        to, subject = content.values_at("to", "subject")
        in_line = {"to" => Core::Show.line(to), "subject" => Core::Show.line(subject)}
        (in_line == content.slice("to", "subject")) ? content : content.merge(in_line)
      end

      private_class_method :going, :said, :caused, :placed, :names, :milliseconds, :told_beside, :secrets, :lined
    end
  end
end
