# frozen_string_literal: true

module Yenvo
  module Engine
    # Writes what a program answered into fields of the record that the call was about, as an event of the record like
    # any other: rules may watch it.
    class ReadBack
      # @param root [Store::Root]
      def initialize(root, log: SemanticLogger["ReadBack"])
        @root = root
        @log = log
      end

      # @param row [Hash] of the outbox, with its content
      # @param body [Object] the JSON that was answered
      # @return [String, nil] what was read, and what was not and why; nil where nothing was to be read
      def write(row, body, now:)
        wanted = row[:content]["read"].to_a
        return if wanted.empty?

        record = @root.records.row!(row[:record_id])
        kind = @root.schema.kind!(record[:kind])
        read = wanted.map { |one| value(one, kind, body) }
        @root.db.transaction(savepoint: true) { change(row, read.reject { |_, _, why| why }, now) }
        read.map { |field, value, why| why || "#{field.label} is now #{value}" }.join("; ")
      rescue Store::NotFound
        "The record is gone, so nothing was read into it"
      rescue Store::Refused, Core::Error => error
        "Nothing was read into the record: #{error.message}"
      rescue *Worker::PASSING
        raise
      rescue => error
        # It has arrived; to try it again for this would send it again and again.
        @log.error("An answer could not be read back", error)
        "Nothing was read into the record, since something went wrong that nobody foresaw"
      end

      private

      def change(row, good, now)
        return if good.empty?

        cause = Store::Journal::Cause.new(who: nil, at: now, run: row[:run_id], rule: row[:rule_id], depth: row[:depth])
        values = good.to_h { |field, value, _| [field.key, value] }
        @root.records.change(row[:record_id], values, cause:)
      end

      # @return [Array(Core::Schema::Field, Object, String)] the field, what it becomes, and why it does not
      def value(one, kind, body)
        field = kind.field(one["field"]) or return [nil, nil, "There is no field #{one["field"]} any more"]
        found = dig(body, one["path"])
        return [field, nil, "The answer holds no #{one["path"]} for #{field.label}"] if found.nil?

        [field, Core::Reading.value(field, typed(found, field), @root.schema), nil]
      rescue Core::Unreadable => error
        [field, nil, "#{one["path"]} of the answer was not taken: #{error.message}"]
      end

      # A number is a text where a text is kept.
      def typed(found, field) =
        (Core::Schema::TEXTS.include?(field.type) && !found.is_a?(Enumerable)) ? found.to_s : found

      def dig(body, path)
        path.split(".").inject(body) do |at, step|
          case at
          when Hash then at[step]
          when Array then at[Integer(step, 10)] if step.match?(/\A\d{1,4}\z/)
          end
        end
      end
    end
  end
end
