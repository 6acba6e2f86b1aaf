# frozen_string_literal: true

module Yenvo
  module Web
    class Present
      # Forms for visitors, as the set-up shows them.
      module FormsPart
        # Days over which it is counted how often each was sent.
        COUNTED = 30

        def forms
          leaning = Store::RuleUses.new(root).by_key("form")
          sent = root.form_sends.counts(since: now - (COUNTED * 86_400))
          root.forms.all.map { |row| form_row(row, leaning.fetch(row[:key], []), sent.fetch(row[:key], 0)) }
        end

        # @param row [Hash]
        def form_sheet(row)
          plain = JSON.parse(row[:draft])
          _, problems = root.forms.read(plain)
          published = row[:number].positive? ? root.forms.body(row[:key], row[:number]) : nil
          form_row(row).merge(
            form: plain.except("kind"), seen: stamp(row[:written_at]), by: row[:written_by],
            differs: published != plain, problems: problems.map(&:to_h), versions: versions(root.forms, row[:key]),
            usual: Core::Form::USUAL
          )
        end

        private

        def form_row(row, leans = [], sent = 0)
          kept = plain(row.slice(:key, :name, :kind, :number, :retired_at))
          kept.merge(address: "/f/#{row[:address]}", closed: !row[:closed_at].nil?, sent:, leans:)
        end
      end
    end
  end
end
