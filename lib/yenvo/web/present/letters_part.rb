# frozen_string_literal: true

module Yenvo
  module Web
    class Present
      # What comes in by mail, as the set-up and the record show it.
      module LettersPart
        def mail_doors = root.mail_doors.all.map { |row| mail_door(row) }

        # @param row [Hash]
        def mail_door_sheet(row)
          _, problems = root.mail_doors.read(row)
          plain = JSON.parse(row[:plain])
          mail_door(row).merge(
            **%w[contact text].to_h { |name| [name.to_sym, plain[name]] }, make_contact: plain["make_contact"] == true,
            fixed: plain["fixed"] || {}, seen: stamp(row[:written_at]), by: row[:written_by],
            problems: problems.map(&:to_h)
          )
        end

        # @param rows [Array<Hash>]
        def letters(rows)
          records = titles_of(rows)
          {rows: rows.map { |row| letter(row, records) }, more: more?(rows)}
        end

        def returned = root.returned.all.map { |row| pick(row, :address, :words, :at, :delivery_id) }

        # @param image [Hash]
        # @return [Hash{Symbol => String}] by field, that mail to the address in it came back
        def warned(image, kind)
          said = kind.own_fields.select { |field| field.type == "email" && image[field.key] }
            .to_h { |field| [field.key, image[field.key].downcase] }
          back = root.returned.of(said.values)
          said.transform_values { |address| back[address] && warning(back[address]) }.compact
        end

        private

        def more?(rows) = rows.size == Store::Letters::PAGE

        def mail_door(row)
          plain(row.slice(:key, :name, :address, :kind, :retired_at)).merge(open: row[:open] == true)
        end

        def letter(row, records)
          pick(row, *OF_LETTER).merge(record: records[row[:record_id]])
        end
        OF_LETTER = %i[id sender name to subject state reason delivery_id door at].freeze
        private_constant :OF_LETTER

        def warning(row)
          "Mail to this address came back on #{day(row[:at])}: #{without_address(row[:words])}"
        end

        def without_address(words) = words.sub(/\A\S+: /, "")

        def day(at) = Core::Show.date(calendar.date_of(at))
      end
    end
  end
end
