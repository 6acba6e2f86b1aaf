# frozen_string_literal: true

module Yenvo
  module Core
    module Actions
      # Tells a program elsewhere by a web call, an event in the form of CloudEvents 1.0, and reads what it answers back
      # into fields.
      class CallOut < Message
        MOST_READ = 20
        # Names with dots between, such as order.number, or lines.0.price.
        PATH = /\A[\w-]{1,80}(\.[\w-]{1,80}){0,7}\z/

        def self.takes = {"address" => :text, "read" => :readings, **LATER}
        def self.words = "Call a program"

        def plan(facts, now:, rule_name:)
          event = event(facts, rule_name)
          subject = facts.after["title"].to_s[0, 200]
          content = {
            "to" => @address.name, "subject" => "About #{subject}", "event" => event,
            "read" => settings["read"]
          }.compact
          message(@address.destination, content, facts, now, words: "Call to #{@address.name}", notes: said)
        end

        def shown = "Call: #{@address ? @address.name : settings["address"]}"

        private

        # CloudEvents 1.0; its id and source are those of the message and the house.
        def event(facts, rule_name)
          event = facts.event
          kind = Schema::Subjects.kind_of(facts)
          {
            "specversion" => "1.0", "type" => "yenvo.#{kind}.#{event.what}", "subject" => "#{kind}/#{facts.record_id}",
            "time" => Reading.moment(event.at), "datacontenttype" => "application/json",
            "data" => {"rule" => rule_name, "record" => record(facts), "task" => task(event)}.compact
          }
        end

        def record(facts)
          kind = Schema::Subjects.kind_of(facts)
          fields = @fields.fetch(kind, {}).transform_values { |get| get.call(facts) }
          {"id" => facts.record_id, "kind" => kind, "fields" => fields.compact}
        end

        def task(event)
          event.detail["task"]&.slice("id", "title", "state", "answer")&.compact
        end

        def said
          labels = settings["read"].to_a.map { |one| @kind.field(one["field"])&.label }
          labels.any? ? ["its answer is read into #{labels.join(", ")}"] : []
        end

        def prepare
          @address = address("call")
          kinds = @kind.task? ? @schema.kinds.keys : [@kind.key]
          @fields = kinds.to_h { |kind| [kind, getters(kind)] }
          settings["read"].to_a.each_with_index { |one, i| check_read(one, i) }
          prepare_leaving
        end

        # @param kind [String] of the record
        # @return [Hash{String => Proc}] by key of a field, for those that the address carries
        def getters(kind)
          keys = @address ? @address.fields.fetch(kind, []) : []
          before = "#{Schema::Subjects.link_to(kind)}." if @kind.task?
          found = keys.to_h { |key| [key, Reference.find("#{before}#{key}", @kind, @schema).first] }.compact
          @needs += found.values.flat_map(&:needs)
          found.transform_values(&:getter)
        end

        def check_read(one, index)
          at = ["read", index]
          unless PATH.match?(one["path"])
            wrong([*at, "path"], "must be names with dots between, such as order.number")
          end
          field = @kind.field(one["field"])
          return if field && !field.worked_out? && !Schema::Kind::KEPT_BY_YENVO.include?(field.key) && !@kind.task?

          wrong([*at, "field"], "must be a field that people fill in; #{Show.quoted(one["field"])} is none")
        end
      end
    end
  end
end
