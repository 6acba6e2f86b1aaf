# frozen_string_literal: true

require "prism"
require "set"
require "yenvo/loader"

class Layout
  # The classes of Yenvo, one a file, each with those that it uses: by name, by an accessor of the root, or because
  # somebody hands them to its constructor.
  class RubyCode
    ROOT = "Yenvo::Store::Root"
    ROOT_NAMES = %i[root @root].freeze

    # @param call [Prism::CallNode]
    # @return [String, nil] name of the class that this makes one of
    def self.made(call) = (RubyCode.written(call.receiver) if call.name == :new)

    # @param node [Prism::Node, nil]
    # @return [String, nil] a constant as it is written
    def self.written(node)
      case node
      when Prism::ConstantReadNode then node.name.to_s
      when Prism::ConstantPathNode then [node.parent && written(node.parent), node.name].compact.join("::")
      end
    end

    # @param folder [String] of the project
    def initialize(folder)
      @folder = folder
    end

    # @param room [String] such as "store"
    # @return [Hash] arrows between its classes, as Circles takes them; the root, which leads to all, is left out
    def classes(room)
      inside = names.select { |_, path| path.start_with?("lib/yenvo/#{room}/") }
      inside.keys.to_h { |name| [name, arrows.fetch(name, {}).slice(*inside.keys)] }.except(ROOT)
        .transform_values { |used| used.except(ROOT) }
    end

    # @param room [String]
    # @return [Hash] arrows between its folders
    def folders(room) = Layout.folded(classes(room)) { |name| folder_of(names[name], room) }

    # @return [Hash{String => Hash{String => Array<String>}}] by name of a class: those that it uses, and where
    def arrows
      @arrows ||= Hash.new { |all, name| all[name] = {} }.tap do |all|
        sources.each_value { |source| source.uses.each { |from, to, place| (all[from][to] ||= []) << place } }
        all.each { |name, used| used.delete(name) }
        all.default = nil
      end
    end

    # @return [Hash{String => String}] name of a class => path of its file
    def names = @names ||= paths.to_h { |path| named(path.delete_prefix("#{@folder}/")) }

    private

    def sources
      @sources ||= names.to_h do |name, path|
        [name, Source.new(name, path, tree(path), names:, accessors:)]
      end
    end

    def paths = Dir[File.join(@folder, "lib/yenvo/**/*.rb")].sort

    # As the loader does: some folders lend their names to no constant.
    def named(path)
      *folders, file = path.delete_prefix("lib/").delete_suffix(".rb").split("/")
      folders.delete_at(2) if Yenvo::FOLDERS.fetch(folders[1].to_s, []).include?(folders[2])
      [[*folders, file].map { |part| Yenvo::LOADER.inflector.camelize(part, path) }.join("::"), path]
    end

    def accessors = @accessors ||= Accessors.new.tap { |all| tree(names[ROOT]).accept(all) if names.key?(ROOT) }.made
    def tree(path) = Prism.parse_file(File.join(@folder, path)).value

    # A file at the top of a room is a room of its own there, or belongs into the folder of its name.
    def folder_of(path, room) = path.delete_prefix("lib/yenvo/#{room}/").split("/").first.delete_suffix(".rb")

    # What the accessors of the root make, however many lines they take.
    class Accessors < Prism::Visitor
      # @return [Hash{Symbol => String}] accessor => name of the class as it is written there
      attr_reader :made

      def initialize
        super
        @made = {}
      end

      def visit_def_node(node)
        @of = node.name
        super
      end

      # The first that is made is what the accessor gives; what is made within its brackets is handed to it.
      def visit_call_node(node)
        @made[@of] ||= RubyCode.made(node) if @of && RubyCode.made(node)
        super
      end
    end

    # One file, read: who uses whom in it, and where.
    class Source < Prism::Visitor
      # @return [Array<Array(String, String, String)>] who uses, who is used, and where
      attr_reader :uses

      # @param name [String] of the class of the file
      # @param names [Hash{String => String}] of all classes
      # @param accessors [Hash{Symbol => String}] of the root
      def initialize(name, path, tree, names:, accessors:)
        super()
        @name, @path, @names, @accessors = name, path, names, accessors
        @scopes = []
        @uses = []
        @owned = Owned.new.tap { |owned| tree.accept(owned) }.names
        tree.accept(self)
      end

      def visit_module_node(node) = within(node) { visit(node.body) }

      def visit_class_node(node)
        visit(node.superclass)
        within(node) { visit(node.body) }
      end

      def visit_constant_read_node(node) = use(resolve(node.name.to_s), node)
      def visit_constant_path_node(node) = use(resolve(RubyCode.written(node).to_s), node)

      def visit_call_node(node)
        use(accessed(node), node) unless @name == ROOT
        hand(node)
        super
      end

      private

      def within(node)
        @scopes.unshift([*@scopes.first, RubyCode.written(node.constant_path)].join("::"))
        yield
        @scopes.shift
      end

      def use(used, node, by: @name)
        @uses << [by, used, "#{@path}:#{node.location.start_line}"] if used
      end

      # What stands between the brackets of a constructor is used by what it makes.
      def hand(call)
        maker = RubyCode.made(call) && resolve(RubyCode.made(call)) or return

        call.arguments&.arguments&.each { |given| things(given).each { |used| use(used, call, by: maker) } }
      end

      # @return [Array<String>] names of the classes of the things that an argument holds
      def things(node)
        case node
        when Prism::SelfNode then (@name == ROOT) ? [] : [@name]
        when Prism::CallNode then [made_or_accessed(node), *things(node.block)].compact
        when Prism::ArrayNode, Prism::HashNode, Prism::KeywordHashNode, Prism::AssocNode, Prism::SplatNode,
          Prism::BlockNode, Prism::LambdaNode, Prism::StatementsNode, Prism::ParenthesesNode
          node.compact_child_nodes.flat_map { |child| things(child) }
        else []
        end
      end

      def made_or_accessed(call)
        written = RubyCode.made(call)
        written ? resolve(written) : accessed(call)
      end

      # @return [String, nil] the class that an accessor of the root gives one of
      def accessed(call)
        made = @accessors[call.name] or return
        "Yenvo::Store::#{made}" if (@name == ROOT) ? call.receiver.nil? : root?(call.receiver)
      end

      def root?(node)
        case node
        when Prism::CallNode, Prism::LocalVariableReadNode then node.name == :root
        when Prism::InstanceVariableReadNode then node.name == :@root
        end
      end

      # Looks for a name as Ruby does, from the innermost module outwards; the longest part that has a file counts.
      def resolve(written)
        parts = written.split("::")
        return if parts.empty? || @scopes.any? { |scope| own?("#{scope}::#{parts.first}") }

        [*@scopes, nil].each do |scope|
          parts.size.downto(1) do |size|
            name = [scope, *parts.first(size)].compact.join("::")
            return name if @names.key?(name)
          end
        end
        nil
      end

      # A class or constant that stands in this file itself; not the modules around the class of the file.
      def own?(name) = @owned.include?(name) && !@names.key?(name) && !@name.start_with?("#{name}::")
    end

    # The constants that a file gives a value.
    class Owned < Prism::Visitor
      # @return [Set<String>]
      attr_reader :names

      def initialize
        super
        @names = Set.new
        @scope = nil
      end

      def visit_module_node(node) = within(node)
      def visit_class_node(node) = within(node)

      def visit_constant_write_node(node)
        @names << [@scope, node.name].compact.join("::")
        super
      end

      private

      def within(node)
        outer = @scope
        @names << (@scope = [outer, RubyCode.written(node.constant_path)].compact.join("::"))
        visit(node.body)
        @scope = outer
      end
    end
  end
end
