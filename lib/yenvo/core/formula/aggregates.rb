# frozen_string_literal: true

module Yenvo
  module Core
    class Formula
      # count, sum, least and greatest over the records that lead to a record, or over its tasks.
      module Aggregates
        module_function

        # @return [Part]
        # @raise [Unreadable]
        def call(compiler, node, depth)
          relation = relation(compiler, node)
          inner = Compiler.new(relation.kind, compiler.schema, inner: true)
          value, test = (node.name == "count") ? [nil, node.args[1]] : node.args[1, 2]
          measured = value && inner.part(value, depth)
          filter = test && inner.expect(inner.part(test, depth), :yes_no, "last in #{node.name}")
          check(node.name, measured)
          made(node.name, relation.name, measured, filter)
        end

        def relation(compiler, node)
          name = node.args[0]
          unless name.is_a?(Dentaku::AST::Identifier)
            raise Unreadable,
              "must say first in #{node.name} what to go over: " \
              "#{Relation.names(compiler.kind, compiler.schema).join(", ")}"
          end

          found, wrong = Relation.find(name.identifier.to_s, compiler.kind, compiler.schema)
          found || raise(Unreadable, wrong)
        end

        def check(name, measured)
          if measured.nil? || measured.type == :number || (name != "sum" && %i[date datetime].include?(measured.type))
            return
          end

          raise Unreadable,
            "must go over numbers#{" or dates" unless name == "sum"}; #{name} of a " \
            "#{measured.type.to_s.tr("_", " ")} is none"
        end

        def made(name, relation, measured, filter)
          keep = filter ? filter.call : ->(_, _) { true }
          get = measured&.call
          call =
            lambda do |facts, image|
              all =
                (facts.related[[image["id"] || facts.record_id, relation]] || []).select do |one|
                  keep.call(facts, one)
                end
              next all.size unless get

              values = all.filter_map { |one| get.call(facts, one) }
              if name == "sum"
                values.sum
              else
                values.public_send((name == "least") ? :min : :max)
              end
            end
          day = [measured, filter].compact.any?(&:day)
          Part.new(
            type: measured ? measured.type : :number, call:, needs: [Need.new(chain: [], over: relation)],
            day: day || relation == "tasks"
          )
        end
      end
    end
  end
end
