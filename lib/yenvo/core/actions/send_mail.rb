# frozen_string_literal: true

module Yenvo
  module Core
    module Actions
      # Writes a mail to persons, teams, e-mail fields and fixed addresses. Who cannot get it is left out, and it is
      # said why.
      class SendMail < Message
        DESTINATION = "mail server"

        def self.takes
          {"receivers" => :receivers, "cc" => :receivers, "reply_to" => :receivers, "subject" => :template,
           "text" => :template, **LATER}
        end

        def self.required = %w[receivers subject text]
        def self.words = "Write a mail"

        def plan(facts, now:, rule_name:)
          out, good = split(@ways.transform_values { |ways| receivers(ways, facts) })
          left_out = out.values_at("to", "cc").flatten.map(&:why).uniq
          return nothing("there is nobody to write to: #{left_out.join("; ")}") if good["to"].empty?

          check_number(good)
          content = content(good, facts, now, rule_name)
          return nothing("the subject or the text came out empty") if empty?(content)

          veiled = outside?(good)
          message(DESTINATION, content, facts, now, words: words(good, content, veiled), left_out:, veiled:,
            notes: left_out.map { |why| "left out: #{why}" })
        end

        def shown = "Mail: #{Text.shown(settings["subject"].to_s, @kind, @schema)}"

        private

        def receivers(ways, facts) = ways.flat_map { |way| Receivers.of(way, facts, @schema, whose(facts)) }

        # @return [Array(Hash, Hash)] those left out and those not, by line; nobody gets it twice
        def split(lines)
          seen = Set.new
          out = lines.transform_values { |all| all.select(&:why) }
          [out, lines.to_h { |name, all| [name, (all - out[name]).select { |one| fresh?(name, one, seen) }] }]
        end

        def fresh?(line, one, seen) = line == "reply_to" || seen.add?(one.address.downcase)
        def empty?(content) = content.values_at("subject", "text").any?(&:empty?)

        def check_number(good)
          number = good.values_at("to", "cc").sum(&:size)
          return if number <= Receivers::MOST

          raise Error, "The mail would go to #{number} addresses; at most #{Receivers::MOST}. Write to fewer."
        end

        def content(good, facts, now, rule_name)
          read = outside?(good) ? facts.read_at(Facts::OUTSIDE) : facts
          text = ->(template) { fill(template, read, now, rule_name) }
          {**lines(good), "subject" => text.call(@subject).gsub(/[[:cntrl:]]+/, " "), "text" => text.call(@text)}
        end

        def lines(good) =
          good.reject { |name, all| all.empty? && name != "to" }
            .transform_values { |all| all.map(&:address).join(", ") }

        # What goes outside alone nobody of the house reads.
        def outside?(good) = @schema.hides? && good.values_at("to", "cc").flatten.none?(&:person)

        def words(good, content, veiled)
          names = good["to"].map(&:name)
          said = names.first(3).join(", ")
          said += " and #{names.size - 3} more" if names.size > 3
          "Mail to #{said}#{": #{content["subject"][0, 120]}" unless veiled}"
        end

        def prepare
          @ways = {"to" => ways("receivers"), "cc" => ways("cc"), "reply_to" => ways("reply_to")}
          wrong("receivers", "must name somebody") if settings["receivers"].to_a.empty?
          wrong("reply_to", "must be one only") if settings["reply_to"].to_a.size > 1
          @subject = template("subject")
          @text = template("text")
          @needs += of_task
          prepare_leaving
        end

        def ways(name) =
          settings[name].to_a.each_with_index.filter_map do |written, i|
            type = Receivers.all.fetch(written["to"])
            way = type.bind(written.except("to"), @kind, @schema, path: path(name, i), problems: @problems)
            way&.tap { |one| @needs += one.references.flat_map(&:needs) }
          end
      end
    end
  end
end
