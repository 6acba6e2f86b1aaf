# frozen_string_literal: true

module Yenvo
  module Web
    class Present
      # Records and what is linked to them.
      module RecordPart
        MAX_FACTS = 9

        # @param images [Array<Hash>] of one kind
        def records(images, kind_key)
          kind = schema.kind!(kind_key)
          images = filled(images, kind_key)
          links = kind.fields.values.select { |field| field.type == "link" }
          linked = sight.titles(images.flat_map { |image| links.map { |field| image[field.key] } })
          linked = away(images, links, linked).merge(linked)
          titles = linked.transform_values { |row| row[:title] }
          images.map { |image| one_record(image, kind, linked, titles) }
        end

        # @param image [Hash]
        def record(image, kind_key) =
          records([image], kind_key).first.merge(warned: warned(image, schema.kind!(kind_key)))

        # @param rows [Array<Hash>] id, title, kind and perhaps field
        def linked(rows)
          rows.map do |row|
            kind = schema.kind(row[:kind])
            field = row[:field].to_s
            {
              **row.slice(:id, :title, :kind),
              kind_label: kind&.label || row[:kind],
              stage: row[:stage] && kind&.field("stage")&.choice_label(row[:stage]),
              field: field.empty? ? nil : (kind&.field(field)&.label || field)
            }
          end
        end

        # @param moment [String, nil] plain form
        # @return [Integer, nil]
        def working_days_since(moment) =
          moment && calendar.working_days(calendar.date_of(Time.iso8601(moment)), today)

        # What somebody who works a task about a record wants to see of it.
        # @return [Array<Hash>] label, shown, and perhaps link and note
        def facts(image, kind)
          image = filled([image], kind.key)[0]
          linked = linked_images(image, kind)
          own = kind.own_fields.reject { |field| image[field.key].nil? || field.type == "long_text" }
          own = own.partition { |field| field.type == "link" }.flatten.first(MAX_FACTS)
          [stage_fact(image, kind), *own.map { |field| fact(field, image[field.key], linked) }, contact(image)].compact
        end

        # @param rows [Array<Hash>]
        def interactions(rows) =
          rows.map do |row|
            mine = row[:who] == @asker[:key] && row[:letter].nil?
            {**pick(row, :id, :way, :text, :who, :at, :edited_at), mine:, letter: load(row[:letter])&.except("answers")}
          end

        private

        # What lies in the trash is still called by its name, and leads to where it can be brought back.
        def away(images, links, linked)
          lost = images.flat_map { |image| links.map { |field| image[field.key] } }.compact.uniq - linked.keys
          root.trash.titles(lost, sight).transform_values { |row| {**row, title: "#{row[:title]} (in the trash)"} }
        end

        # What is worked out may come from what is kept.
        def filled(images, kind) = root.worked_out.fill(images, root.schema.kind!(kind), now:)

        def contact(image)
          shown = day_shown(image["last_contact"]) || "none yet"
          {label: "Last contact", shown:, note: quiet(image), link: nil}
        end

        def stage_fact(image, kind)
          return unless image["stage"]

          shown = kind.field("stage").choice_label(image["stage"])
          {label: kind.stage_label, shown:, note: "since #{day_shown(image["stage_since"])}", link: nil}
        end

        # @param moment [String, nil] plain form
        def day_shown(moment) = moment && Core::Show.date(calendar.date_of(Time.iso8601(moment)))

        def one_record(image, kind, linked, titles)
          filled = kind.fields.values.reject { |field| image[field.key].nil? }
          {
            **image.slice("id", "version", "title", "stage_since").transform_keys(&:to_sym),
            kind: kind.key, values: image.slice(*kind.fields.keys), **may(kind, image),
            links: kind.links.to_h { |field| [field.key, linked[image[field.key]]] }.compact,
            shown: filled.to_h { |field| [field.key, shown(field, image[field.key], titles)] }
          }
        end

        def may(kind, image)
          verbs = {may_change: :changed_by, may_take_away: :taken_away_by}
          verbs.transform_values { |verb| sight.access.may?(verb, kind, image["owner"]) }
        end

        def shown(field, value, titles)
          return GONE if field.type == "link" && !titles.key?(value)

          Core::Show.value(field, value, schema, titles)
        end
        GONE = "a record that is gone"
        private_constant :GONE

        def linked_images(image, kind)
          ids = kind.fields.values.select { |field| field.type == "link" }.filter_map { |field| image[field.key] }
          sight.images(ids)
        end

        def fact(field, value, linked)
          target = linked[value] if field.type == "link"
          {
            label: field.label, shown: target ? target["title"] : shown(field, value, {}),
            note: note(field, value, target), link: target && {id: target["id"], kind: target["kind"]}
          }
        end

        def note(field, value, target)
          return phone_of(target) if target
          return unless field.type == "date"

          days = calendar.working_days(today, Date.iso8601(value))
          return "today" if Date.iso8601(value) == today

          some = Core::Show.some(days.abs, "working day")
          days.negative? ? "#{some} ago" : "in #{some}"
        end

        def phone_of(image)
          kind = schema.kind(image["kind"])
          field = kind&.own_fields&.find { |candidate| candidate.type == "phone" && image[candidate.key] }
          field && image[field.key]
        end

        def quiet(image)
          days = working_days_since(image["last_contact"])
          days && "#{Core::Show.some(days, "working day")} ago"
        end
      end
    end
  end
end
