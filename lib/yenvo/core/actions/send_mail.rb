# frozen_string_literal: true

module Yenvo
  module Core
    module Actions
      # Writes a mail to persons, teams, e-mail fields and fixed addresses. Who cannot get it is left out, and it is
      # said why.
      class SendMail < Message
        DESTINATION = "mail server"

        def self.takes
          {
            "receivers" => :receivers, "cc" => :receivers, "reply_to" => :receivers, "subject" => :template,
            "text" => :template, "saved" => :kept, "attach" => :attach, **LATER
          }
        end

        def self.required = %w[receivers]
        def self.words = "Write a mail"

        def plan(facts, now:, rule_name:)
          whose = whose(facts)
          found = @ways.transform_values { |ways| ways.flat_map { |way| Receivers.of(way, facts, @schema, whose) } }
          left_out = read_by(found).filter_map(&:why).uniq
          good = good(found)
          return nothing("there is nobody to write to: #{left_out.join("; ")}") if good["to"].empty?

          check_number(good)
          content = content(good, facts, now, rule_name)
          return nothing("the subject or the text came out empty") if empty?(content)

          veiled = outside?(good)
          message(DESTINATION, content, facts, now, words: words(good, content, veiled), left_out:, named: names(good),
            notes: left_out.map { |why| "left out: #{why}" }, attach: settings["attach"].to_a.uniq)
        end

        def shown = "Mail: #{Text.shown(source_of("subject"), @kind, @schema)}"

        # What can go along: papers that the same run has made, files of the task of the event.
        ATTACH = %w[papers files].freeze

        # Lines of a mail by what says who stands there.
        LINES = {"to" => "receivers", "cc" => "cc", "reply_to" => "reply_to"}.freeze
        private_constant :LINES

        private

        # @return [Hash] those not left out, by line; nobody gets it twice
        def good(lines)
          seen = Set.new
          lines.to_h { |line, all| [line, all.select { |one| one.why.nil? && fresh?(line, one, seen) }] }
        end

        def fresh?(line, one, seen) = line == "reply_to" || seen.add?(one.address.downcase)
        def empty?(content) = content.values_at("subject", "text").any?(&:empty?)

        def check_number(good)
          number = read_by(good).size
          return if number <= Receivers::MOST

          raise Error, "The mail would go to #{number} addresses; at most #{Receivers::MOST}. Write to fewer."
        end

        # Whoever answers go to reads nothing.
        def read_by(lines) = lines.flat_map { |line, all| (line == "reply_to") ? [] : all }

        def content(good, facts, now, rule_name)
          read = outside?(good) ? facts.read_at(Facts::OUTSIDE) : facts
          text = ->(template) { fill(template, read, now, rule_name) }
          {**lines(good), "subject" => Show.line(text.call(@subject)), "text" => text.call(@text)}
        end

        def lines(good) =
          good.reject { |name, all| all.empty? && name != "to" }
            .transform_values { |all| all.map(&:address).join(", ") }

        # What goes outside alone nobody of the house reads, unless somebody is asked about it first.
        def outside?(good) = settings["ask"] != true && @schema.hides? && read_by(good).none?(&:person)

        def names(good) = good["to"].map(&:name).join(", ")

        def words(good, content, veiled)
          names = good["to"].map(&:name)
          said = names.first(3).join(", ")
          said += " and #{names.size - 3} more" if names.size > 3
          "Mail to #{said}#{": #{content["subject"][0, 120]}" unless veiled}"
        end

        def prepare
          @ways = LINES.transform_values { |name| ways(name) }.reject { |line, ways| ways.empty? && line != "to" }
          wrong("receivers", "must name somebody") if settings["receivers"].to_a.empty?
          wrong("reply_to", "must be one only") if settings["reply_to"].to_a.size > 1
          @subject = template("subject")
          @text = template("text")
          @needs += of_task
          check_attach
          prepare_leaving
        end

        def check_attach
          attach = settings["attach"].to_a
          if attach.include?("papers") && @place.papers.empty?
            wrong("attach", "must stand behind an action that makes a paper; there is none before it")
          end
          return unless attach.include?("files") && !@place.watches_task

          wrong("attach", "must be of a task; the trigger watches no tasks, so there are no files of one")
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
