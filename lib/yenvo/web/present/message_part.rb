# frozen_string_literal: true

module Yenvo
  module Web
    class Present
      # What leaves the house.
      module MessagePart
        HEAD = %i[id way to subject state by made_at due_at settled_at tries answer run_id back_at back].freeze
        private_constant :HEAD

        # @param rows [Array<Hash>] of the outbox
        def messages(rows)
          rules = root.rules.names(column(rows, :rule_id).compact)
          records = titles_of(rows)
          rows.map do |row|
            {
              **plain(row.slice(*HEAD)),
              destination: destination(row), rule: named(row[:rule_id], rules, "rule"), record: records[row[:record_id]]
            }
          end
        end

        # @param row [Hash] with a destination
        # @return [String] as people know it
        def destination(row) = address_names.fetch(row[:destination], row[:destination])

        # @param counted [Array<Hash>] destinations at which something failed
        # @return [Array<Hash>] all destinations that there are
        def destinations(counted)
          failed = counted.to_h { |row| row.values_at(:destination, :count) }
          [Core::Actions::SendMail::DESTINATION, *address_names.keys, *failed.keys].uniq.map do |key|
            {destination: key, name: destination({destination: key}), failed: failed.fetch(key, 0)}
          end
        end

        # @param row [Hash] of the outbox
        # @return [Hash] what it says, without what lets somebody in
        def content(row)
          # Or whoever may read the outbox, such as a program with a token, could let themselves in.
          return {text: Store::Outbox::GONE, cc: nil, reply_to: nil, files: []} if row[:secret]

          content = load(row[:content])
          text = content["event"] ? JSON.pretty_generate(content["event"]) : content["text"]
          {text:, cc: content["cc"], reply_to: content["reply_to"], files: file_names(content)}
        end

        # @param row [Hash] of what waits to be sent
        # @return [Hash, nil] a message that waits for whoever caused it
        def proposed_message(row)
          message = load(row[:message]) or return
          content = message["content"]
          {
            way: message["way"], words: message["words"], leaves_at: message["leaves_at"],
            files: file_names(content), to: message["named"] || content["to"],
            cc: (content["cc"] unless root.schema.veils?),
            **%i[subject text].to_h { |key| [key, content[key.to_s]] }
          }
        end

        private

        # @return [Array<String>]
        def file_names(content) = content["files"].to_a.map { |file| file["name"] }

        def address_names = @address_names ||= root.addresses.names
      end
    end
  end
end
